"""A round of visits: the order of stops by the way through the air, and the round as GPX, GeoJSON and KML."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from html import escape
from itertools import pairwise

import orjson

from openacorn.core.geo.geodesy import Point, distance_m

_CONTROL = re.compile(r"[\x00-\x1f\x7f\ufffe\uffff]")
MOST_STOPS = 200
"""Stops of one round; many more are no day's work."""


@dataclass(frozen=True, slots=True)
class Stop:
    """A place to be visited."""

    id: int
    name: str
    address: str
    point: Point


def _length(way: Sequence[int], away: Sequence[Sequence[float]]) -> float:
    return sum(away[one][two] for one, two in pairwise(way))


def order(start: Point, stops: Sequence[Stop]) -> tuple[list[Stop], float]:
    """(the stops in the order to be visited, the way in metres from the start over all of them and back).

    The nearest stop next, then pairs of legs crossed over (2-opt) until none makes the way shorter.
    """
    points = [start, *(stop.point for stop in stops)]
    away = [[distance_m(one, two) for two in points] for one in points]
    way, left = [0], set(range(1, len(points)))
    while left:
        following = min(left, key=lambda at: (away[way[-1]][at], at))
        way.append(following)
        left.remove(following)
    way.append(0)
    better = True
    while better:
        better = False
        for first in range(1, len(way) - 2):
            for last in range(first + 1, len(way) - 1):
                now = away[way[first - 1]][way[first]] + away[way[last]][way[last + 1]]
                crossed = away[way[first - 1]][way[last]] + away[way[first]][way[last + 1]]
                if crossed < now - 1e-6:
                    way[first : last + 1] = reversed(way[first : last + 1])
                    better = True
    return [stops[at - 1] for at in way[1:-1]], _length(way, away)


def _xml(text: str) -> str:
    """A text within XML 1.0, which knows no control characters."""
    return escape(_CONTROL.sub(" ", text))


def as_gpx(title: str, stops: Sequence[Stop]) -> bytes:
    """The round as a route (GPX 1.1)."""
    points = "".join(
        f'<rtept lat="{stop.point.lat}" lon="{stop.point.lon}"><name>{_xml(stop.name)}</name>'
        f"<desc>{_xml(stop.address)}</desc></rtept>"
        for stop in stops
    )
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n<gpx version="1.1" creator="Open Acorn" xmlns="http://www.topografix.com/GPX/1/1">'
        f"<rte><name>{_xml(title)}</name>{points}</rte></gpx>\n"
    ).encode()


def as_kml(title: str, stops: Sequence[Stop]) -> bytes:
    """The round as places in order (KML 2.2, OGC 07-147r2)."""
    places = "".join(
        f"<Placemark><name>{number}. {_xml(stop.name)}</name><description>{_xml(stop.address)}</description>"
        f"<Point><coordinates>{stop.point.lon},{stop.point.lat}</coordinates></Point></Placemark>"
        for number, stop in enumerate(stops, 1)
    )
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n<kml xmlns="http://www.opengis.net/kml/2.2">'
        f"<Document><name>{_xml(title)}</name>{places}</Document></kml>\n"
    ).encode()


def as_geojson(title: str, stops: Sequence[Stop]) -> bytes:
    """The round as a line and its stops (RFC 7946)."""
    line = {"type": "LineString", "coordinates": [[stop.point.lon, stop.point.lat] for stop in stops]}
    features = [
        {"type": "Feature", "geometry": line if len(stops) > 1 else None, "properties": {"name": title}},
        *(
            {
                "type": "Feature", "geometry": {"type": "Point", "coordinates": [stop.point.lon, stop.point.lat]},
                "properties": {"name": stop.name, "address": stop.address, "number": number, "id": stop.id},
            }
            for number, stop in enumerate(stops, 1)
        ),
    ]  # fmt: skip
    return orjson.dumps({"type": "FeatureCollection", "features": features})


FORMS = {
    "gpx": (as_gpx, "application/gpx+xml"), "kml": (as_kml, "application/vnd.google-earth.kml+xml"),
    "geojson": (as_geojson, "application/geo+json"),
}  # fmt: skip
"""Form → (what writes it, its media type)."""
