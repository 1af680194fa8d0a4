"""Three small servers of somebody else's: a map-data service, a directory, two businesses' websites. Written by hand for the
stranger's journey; nothing in them comes from the simulated world."""

import http.server
import json
import re
import urllib.parse
from collections.abc import Iterator
from contextlib import contextmanager

from tests.running import served

OSM = [
    ("node", 11, -36.9012, 161.4031, {"amenity": "veterinary", "name": "Brindle Quay Vets", "contact:phone": "+61 3 7010 4411", "addr:housenumber": "2", "addr:street": "Slip Road", "addr:city": "Brindle Quay", "check_date": "2025-03-02"}),
    ("way", 12, -36.9034, 161.4090, {"shop": "florist", "name": "Petal & Stem", "website": "{petal}", "building": "retail"}),
    ("relation", 13, -36.9051, 161.3988, {"shop": "florist", "name:en": "The Green Door", "name": "The Green Door", "opening_hours": "Mo-Sa 09:00-17:00", "phone": "03 7010 4420;03 7010 4421"}),
    ("node", 14, -36.9080, 161.4102, {"shop": "florist"}),
]  # fmt: skip
"""Type, id, latitude, longitude, tags: as the volunteers of a map write them (ways and relations have their centre instead)."""

CARDS = """<!doctype html><html><head><title>Yellow shed: who does what</title></head><body><header><a href=/>Yellow shed</a>
<form action=/find><input name=w value="{what}"><input name=in value="{where}"></form></header><main><div class=cards>{cards}</div>
<nav class=pages>{pages}</nav></main><footer>© Yellow shed</footer></body></html>"""
CARD = """<article class="card"><h3 class="t"><a href="/firm/{n}">{name}</a></h3><p class="adr">{n} Wharf Street, Brindle Quay 7999</p>
<p><span class="ph">03 7010 45{n:02d}</span> <a class="web" rel="nofollow" href="http://{slug}.invalid">Website</a></p></article>"""
FIRMS = [
    "Albany Flowers",
    "Bloom Room",
    "Cutting Garden",
    "Daisy & Son",
    "Everlasting",
    "Fern House",
    "Gathered",
    "Hothouse",
    "Iris Lane",
    "Jasmine Row",
    "Knot Garden",
    "Lupin Post",
]
PER_PAGE = 5

PETAL = """<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1">
<title>Petal &amp; Stem – flowers in Brindle Quay</title><link rel="stylesheet" href="/s.css"></head><body><h1>Flowers, cut this morning</h1>
<p>We deliver within Brindle Quay. Ring <a href="tel:+61370104412">03 7010 4412</a> or write to <a href="mailto:hello@petal.example">us</a>.</p>
<a href="/weddings.html">Weddings</a></body></html>"""
DOOR = """<HTML><HEAD><TITLE>WELCOME</TITLE></HEAD><BODY BGCOLOR=#FFFFFF><CENTER><FONT SIZE=5>Tidewater Locksmiths</FONT><TABLE WIDTH=760>
<TR><TD>Keys cut while you wait.<BR>Phone 03 7010 4433</TABLE><HR>Copyright 2009</CENTER></BODY></HTML>"""


class Stranger(http.server.BaseHTTPRequestHandler):
    """Answers by the Host header; what it was asked is kept on the server."""

    protocol_version = "HTTP/1.1"
    server: http.server.ThreadingHTTPServer

    def _send(self, body: str, kind: str = "text/html; charset=utf-8", status: int = 200) -> None:
        data = body.encode()
        self.send_response(status)
        self.send_header("Content-Type", kind)
        self.send_header("Content-Length", str(len(data)))
        self.end_headers()
        self.wfile.write(data)

    def do_GET(self) -> None:
        host = self.headers["Host"].partition(":")[0].removesuffix(".localhost")
        url = urllib.parse.urlsplit(self.path)
        query = dict(urllib.parse.parse_qsl(url.query))
        if host == "maps":
            self._map(query.get("data", ""))
        elif host == "shed" and url.path == "/find":
            self._directory(query)
        elif host in {"petal", "tidewater"} and url.path in {"/", "/weddings.html"}:
            self._send({"petal": PETAL, "tidewater": DOOR}[host])
        else:
            self._send("<h1>Not found</h1>", status=404)

    def _map(self, question: str) -> None:
        boxes = re.findall(r'nwr\["(\w+)"="(\w+)"\]\(([-\d.,]+)\)', question)
        found = []
        for kind, number, lat, lon, tags in OSM:
            for key, value, box in boxes:
                south, west, north, east = map(float, box.split(","))
                if tags.get(key) == value and south <= lat <= north and west <= lon <= east:
                    place = (
                        {"lat": lat, "lon": lon}
                        if kind == "node"
                        else {"center": {"lat": lat, "lon": lon}, "bounds": {}}
                    )
                    petal = f"http://petal.localhost:{self.server.server_port}/"
                    answer = {k: v.format(petal=petal) for k, v in tags.items()}
                    found.append({"type": kind, "id": number, **place, "tags": answer})
        self._send(
            json.dumps(
                {"version": 0.6, "generator": "somebody's", "osm3s": {"copyright": "volunteers"}, "elements": found}
            ),
            "application/json",
        )

    def _directory(self, query: dict[str, str]) -> None:
        page = int(query.get("p", 1))
        firms = FIRMS if "flor" in query.get("w", "") else []
        shown = list(enumerate(firms, 1))[(page - 1) * PER_PAGE : page * PER_PAGE]
        cards = "".join(
            CARD.format(n=n, name=name.replace("&", "&amp;"), slug=name.split()[0].lower()) for n, name in shown
        )
        more = page * PER_PAGE < len(firms)
        onward = urllib.parse.urlencode({**query, "p": page + 1}).replace("&", "&amp;")
        pages = (
            f'<b>{page}</b> <a class="onward" rel="next" href="?{onward}">more firms</a>' if more else f"<b>{page}</b>"
        )
        self._send(CARDS.format(what=query.get("w", ""), where=query.get("in", ""), cards=cards, pages=pages))

    def log_message(self, format: str, *args: object) -> None:
        """Keep quiet."""


@contextmanager
def strangers() -> Iterator[int]:
    """The servers on one port, told apart by name: {maps,shed,petal,tidewater}.localhost."""
    with served(http.server.ThreadingHTTPServer(("127.0.0.1", 0), Stranger)) as server:
        yield server.server_port
