"""Open map data: the public query language's JSON for a box and tags (Overpass QL, wiki.openstreetmap.org/wiki/Overpass_API)."""

from typing import Any

import orjson

from openacorn.core.gather.listing import Listing
from openacorn.core.gather.planning import Query
from openacorn.core.trades.trade import Trade
from openacorn.gather.sources._source import (
    Endpoint,
    PublicService,
    Reading,
    Request,
    Source,
    SourceFailure,
    SourceReply,
)

CAP = 1000
"""Elements asked for at most in one answer; a fuller box is split."""

TIMEOUT_S = 60

PUBLIC = PublicService(
    "https://overpass-api.de/api/interpreter",
    2.0,
    "Free for everybody, within reason: one question at a time, your contact e-mail with each, fewer than 10,000 a day. "
    "The data are © OpenStreetMap contributors (ODbL): say so where you show them.",
    "https://dev.overpass-api.de/overpass-doc/en/preface/commons.html",
)
"""The public server of the map's own community; address and rules from memory, 2026."""


def _condition(pair: str) -> str:
    key, _, value = pair.partition("=")
    return f'["{key}"="{value}"]'


def query_text(query: Query, trade: Trade) -> str:
    """The question in the query language: nodes, ways and relations of the trade's tags in the tile's box."""
    tile = query.tile
    assert tile is not None
    boxes = [(tile.west, tile.east)]
    west, east = (tile.west + 180) % 360 - 180, (tile.east + 180) % 360 - 180
    boxes = [(west, east)] if west <= east else [(west, 180.0), (-180.0, east)]
    parts = [
        f"nwr{''.join(_condition(pair) for pair in tag.split('+'))}({tile.south:.6f},{low:.6f},{tile.north:.6f},{high:.6f});"
        for low, high in boxes
        for tag in trade.tags
    ]
    return f"[out:json][timeout:{TIMEOUT_S}];({''.join(parts)});out center {CAP};"


def ask(query: Query, endpoint: Endpoint) -> Request:
    """Ask for everything of the trade in the tile, at once."""
    return Request(endpoint.url, {"data": query_text(query, endpoint.trades.of(query.trade))}, {}, endpoint.pace_s)


def _name(tags: dict[str, str]) -> str:
    """What it is called: by its sign, else in any language, else by its chain or its operator; "" if nothing says."""
    languages = sorted(tag for tag in tags if tag.startswith("name:"))
    known = ("name", "official_name", "brand", "name:en", *languages, "alt_name", "operator")
    return next((tags[tag] for tag in known if tags.get(tag)), "")


def listing_of(element: dict[str, Any], source: str) -> Listing | None:
    """A map element as a listing; None without a name. Keys are those of the map's own tagging guide."""
    tags: dict[str, str] = element.get("tags") or {}
    name = _name(tags)
    if not name:
        return None
    middle = element.get("center") or element
    kind = next(
        (
            f"{key}={tags[key]}"
            for key in ("shop", "amenity", "craft", "office", "healthcare", "leisure")
            if key in tags
        ),
        "",
    )
    return Listing(
        source=source,
        source_id=f"{element['type'][0]}{element['id']}",
        name=name,
        category=kind.partition("=")[2].replace("_", " "),
        lat=middle.get("lat"),
        lon=middle.get("lon"),
        street=f"{tags.get('addr:housenumber', '')} {tags.get('addr:street', '')}".strip(),
        town=tags.get("addr:city") or tags.get("addr:suburb", ""),
        postcode=tags.get("addr:postcode", ""),
        phone=tags.get("phone") or tags.get("contact:phone") or tags.get("contact:mobile", ""),
        website=tags.get("website") or tags.get("contact:website") or tags.get("url", ""),
        email=tags.get("email") or tags.get("contact:email", ""),
        hours=tags.get("opening_hours", ""),
        status="closed" if "disused:shop" in tags or "end_date" in tags else "unknown",
    )


def read(query: Query, _endpoint: Endpoint, reply: SourceReply) -> Reading:
    """Read an answer. A remark about a run-out limit means that rows are missing: the tile is split."""
    try:
        answer = orjson.loads(reply.body)
        elements = list(answer["elements"])
    except (orjson.JSONDecodeError, KeyError, TypeError) as error:
        raise SourceFailure(
            f"the answer is not what a map data server sends: {error}", "check the address in the settings"
        ) from error
    found, unreadable = [], 0
    for element in elements:
        try:
            listing = listing_of(element, query.source)
        except (AttributeError, KeyError, TypeError):
            unreadable += 1
            continue
        if listing is not None:
            found.append(listing)
    remark = str(answer.get("remark", ""))
    return Reading(tuple(found), more=False, unreadable=unreadable, cut="error" in remark or len(elements) >= CAP)


SOURCE = Source(
    id="map_data",
    title="Open map data",
    cap=CAP,
    page_size=CAP,
    ask=ask,
    read=read,
    hint="pins drawn by volunteers; few phones and websites",
    at_once=1,
    public=PUBLIC,
)
