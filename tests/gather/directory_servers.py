"""Directories and a search service of somebody else's, each built in a way of its own. Written by hand for these tests; they share no code and no
markup with the directory of the simulated coast.

Guildhall: ISO 8859-1, cards in columns among lists that are none, a "weiter" link, and on each firm's own page its phone and an
e-mail address that is veiled. Mode "changed": the same firms in another markup.
Bazaar: a page that a script fills, eight firms at a time, on the press of a button. Mode "scroll": on scrolling instead.
Beacon: pictures to look at, and an ItemList in JSON-LD to read.
Seeker: results of a web search, behind addresses of its own; among the sites that it leads to are a directory, one that is down, and
one that says its address in structured data. The sites answer on the same port by their names.
"""

import html
import http.server
import json
import urllib.parse
from collections.abc import Iterator
from contextlib import contextmanager

from tests.running import served

TREES = "Alder Birch Cedar Damson Elder Fir Gean Hawthorn Ilex Juniper Kauri Larch Maple Nutmeg Oak Plane".split()
FIRMS = [
    {"n": n, "name": f"{TREES[n % 16]} Bloemen {n} Café" if n % 5 == 0 else f"{TREES[n % 16]} & Töchter {n}", "street": f"{n + 2} Sörgel Lane",
     "phone": f"03 7010 {4600 + n}", "mail": f"firm{n}@{TREES[n % 16].lower()}.example"}
    for n in range(24)
]  # fmt: skip
PER_PAGE = 8
VEIL = 0x5A


def veiled(address: str) -> str:
    """An address as a common protection of e-mails writes it: hex bytes, each XORed with the first."""
    return f"{VEIL:02x}" + "".join(f"{byte ^ VEIL:02x}" for byte in address.encode())


SITES = {
    "rosehip": ("Rosehip Florist – bouquets in Brindle Quay", "<h1>Fresh today</h1><p>Call 03 7010 4701 or write to shop@rosehip.example</p>"),
    "tansy": ("Tansy &amp; Thyme | Home", """<script type="application/ld+json">{"@type":"Florist","name":"Tansy & Thyme","telephone":"+61 3 7010 4702",
      "address":{"streetAddress":"8 Gully Road","addressLocality":"Ferny Bar","postalCode":"7998"},"geo":{"latitude":-36.91,"longitude":161.41}}</script><p>Hi.</p>"""),
    "whichshop": ("WhichShop: all florists", "".join(
        f'<div class="hit"><h3>Shop {n}</h3><p>{n} Wharf Street</p><p>03 7010 48{n:02d}</p></div>' for n in range(9))),
    "sorrel": ("Sorrel – Blumen", "<h1>Sorrel</h1><p>Ring 03 7010 4704</p>"),
    "broken": ("", ""),
    "yarrow": ("Yarrow Flowers", "<h1>Yarrow Flowers</h1><p>Phone: (03) 7010 4706</p>"),
}  # fmt: skip
"""Host's first label → title and body of its front page."""


class Directory(http.server.BaseHTTPRequestHandler):
    """Answers for one of the three, by the server's `shape`."""

    protocol_version = "HTTP/1.1"
    server: "Server"

    def send(self, text: str, kind: str = "text/html", encoding: str = "utf-8", status: int = 200) -> None:
        """Send a page."""
        body = text.encode(encoding, "xmlcharrefreplace")
        self.send_response(status)
        self.send_header("Content-Type", kind if encoding == "utf-8" else f"{kind}; charset={encoding}")
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def do_GET(self) -> None:
        """Answer one request."""
        self.server.asked.append(self.path)
        url = urllib.parse.urlsplit(self.path)
        query = dict(urllib.parse.parse_qsl(url.query))
        site = self.headers["Host"].partition(".")[0]
        if site in SITES and url.path == "/" and self.server.shape == "seeker":
            title, body = SITES[site]
            text = f"<html><head><title>{title}</title></head><body>{body}</body></html>"
            return self.send(text, status=200 if title else 404)
        page = int(query.get("seite", query.get("from", query.get("page", "1"))))
        if url.path == "/robots.txt":
            return self.send("User-agent: *\nDisallow: /intern\n", "text/plain")
        if url.path.startswith("/mitglied/"):
            return self._member(int(url.path.rpartition("/")[2]))
        if url.path == "/rows.json":
            return self.send(json.dumps(FIRMS[page : page + PER_PAGE]), "application/json")
        shown = FIRMS[(page - 1) * PER_PAGE : page * PER_PAGE] if "flor" in query.get("was", query.get("q", "")) else []
        more = bool(shown) and page * PER_PAGE < len(FIRMS)
        onward = urllib.parse.urlencode({**query, "seite": page + 1})
        page_of = {
            "guildhall": self._guildhall,
            "bazaar": self._bazaar,
            "beacon": self._beacon,
            "seeker": self._seeker,
        }[self.server.shape]
        return page_of(shown, f"?{onward}" if more else "")

    def _guildhall(self, shown: list[dict[str, object]], onward: str) -> None:
        def card(firm: dict[str, object]) -> str:
            name = html.escape(str(firm["name"]))
            if self.server.mode == "changed":
                return f'<dl class="eintrag"><dt>{name}</dt><dd>{firm["street"]}, Brindle Quay, seit 1990</dd></dl>'
            best = " empfohlen" if int(str(firm["n"])) % 3 == 0 else ""
            return (
                f'<div class="box{best}"><div class="kopf"><a href="/mitglied/{firm["n"]}">{name}</a></div>'
                f"<span>{firm['street']}</span><span>Brindle Quay</span></div>"
            )

        menu = "".join(
            f'<li class="punkt"><a href="/{name}">{name.title()}</a></li>'
            for name in ("start", "verein", "presse", "intern")
        )
        news = "".join(
            f"<article><h3>Neues aus der Gilde {n}</h3><p>Ein langer Bericht über das Sommerfest, 12 Seiten, 4 Bilder, von Herrn Ö.</p></article>"
            for n in range(6)
        )
        columns = "".join(f'<div class="spalte">{"".join(map(card, shown[half::2]))}</div>' for half in (0, 1))
        next_page = (
            f'<p class="blaettern"><a class="weiter" href="/suche{html.escape(onward)}"><b>weiter</b></a></p>'
            if onward
            else ""
        )
        self.send(
            f'<html><head><title>Gilde</title></head><body><ul class="leiste">{menu}</ul><div class="neues">{news}</div>'
            f'<div class="treffer">{columns}</div>{next_page}<script src="https://elsewhere.example/a.js"></script></body></html>',
            encoding="iso-8859-1",
        )

    def _member(self, number: int) -> None:
        if not 0 <= number < len(FIRMS):
            return self.send("<h1>Nicht gefunden</h1>", status=404)
        firm = FIRMS[number]
        return self.send(
            f'<html><body><nav><a href="tel:0370109999">Die Gilde</a></nav><main><h1>{firm["name"]}</h1>'
            f'<table class="daten"><tr><th>Ruf</th><td class="ruf">{firm["phone"]}</td></tr>'
            f'<tr><th>Post</th><td class="post"><a href="/cdn-cgi/l/email-protection#{veiled(str(firm["mail"]))}">Zum Anzeigen klicken</a></td></tr>'
            f"</table></main></body></html>",
            encoding="iso-8859-1",
        )

    def _bazaar(self, shown: list[dict[str, object]], _onward: str) -> None:
        trigger = (
            "addEventListener('scroll', load)"
            if self.server.mode == "scroll"
            else "document.querySelector('.mehr').onclick = load"
        )
        self.send(f"""<html><body><div id="stalls"></div><div style="height:1200px"></div><button class="mehr">more stalls</button><script>
let at = 0, busy = false;
async function load() {{
  if (busy || at >= {len(FIRMS)}) return; busy = true;
  const rows = await (await fetch('/rows.json?from=' + at)).json(); at += rows.length;
  for (const row of rows) {{
    const box = document.createElement('section'); box.className = 'stall';
    const name = document.createElement('h4'); name.textContent = row.name; box.append(name);
    const street = document.createElement('address'); street.textContent = row.street; box.append(street);
    const call = document.createElement('a'); call.href = 'tel:' + row.phone.replaceAll(' ', ''); call.textContent = 'Call'; box.append(call);
    document.getElementById('stalls').append(box);
  }}
  busy = false;
}}
{"load();" if shown else ""} {trigger};
</script></body></html>""")

    def _beacon(self, shown: list[dict[str, object]], onward: str) -> None:
        listed = {
            "@context": "https://schema.org", "@type": "ItemList",
            "itemListElement": [
                {"@type": "ListItem", "position": n, "item": {
                    "@type": "Florist", "name": firm["name"], "telephone": firm["phone"], "email": firm["mail"],
                    "address": {"@type": "PostalAddress", "streetAddress": firm["street"], "addressLocality": "Brindle Quay", "postalCode": "7999"},
                    "geo": {"latitude": -36.905, "longitude": 161.404 + int(str(firm["n"])) / 1000},
                }}
                for n, firm in enumerate(shown, 1)
            ],
        }  # fmt: skip
        pictures = "".join(f'<a href="/mitglied/{firm["n"]}"><img src="/logo{firm["n"]}.png"></a>' for firm in shown)
        next_page = f'<a rel="next" href="/suche{html.escape(onward)}">2</a>' if onward else ""
        self.send(
            f'<html><head><script type="application/ld+json">{json.dumps(listed)}</script></head><body><div>{pictures}</div>{next_page}</body></html>'
        )

    def _seeker(self, _shown: list[dict[str, object]], onward: str) -> None:
        names = list(SITES)
        if "seite=2" in self.path:
            names, onward = names[4:], ""
        else:
            names = names[:4]
        port = self.server.server_port
        hits = [(SITES[name][0] or "Broken Stem", f"http://{name}.localhost:{port}/shop/page?a=1") for name in names]
        hits.insert(1, ("Top 10 florists in Brindle Quay", f"http://listings.localhost:{port}/top"))
        rows = "".join(
            f'<div class="r"><a class="t" href="/weg?u={urllib.parse.quote(there, safe="")}&amp;x=1">{title}</a><cite>somewhere</cite>'
            f"<p>Some words about it, florists and more, a few lines long, as a search shows.</p></div>"
            for title, there in hits
        )
        more = f'<a id="pnnext" href="/suche{html.escape(onward)}">Next</a>' if onward else ""
        self.send(
            f"<html><body><nav><a href='/'>All</a> <a href='/i'>Images</a></nav><div id=res>{rows}</div>{more}</body></html>"
        )

    def log_message(self, format: str, *args: object) -> None:
        """Keep quiet."""


class Server(http.server.ThreadingHTTPServer):
    """One of the three. asked: the paths that were asked for; mode: see above."""

    def __init__(self, shape: str, mode: str = "") -> None:
        super().__init__(("127.0.0.1", 0), Directory)
        self.shape, self.mode = shape, mode
        self.asked: list[str] = []

    def url(self, path: str) -> str:
        """A whole address there."""
        return f"http://127.0.0.1:{self.server_port}{path}"


@contextmanager
def directory(shape: str, mode: str = "") -> Iterator[Server]:
    """One of the three, running."""
    with served(Server(shape, mode)) as running:
        yield running
