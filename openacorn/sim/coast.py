"""The Tarrow Coast: an invented shore in the open Tasman Sea. Towns, districts, roads, coastline."""

import math
from dataclasses import dataclass
from itertools import pairwise
from typing import Any


@dataclass(frozen=True, slots=True)
class Town:
    """Position in degrees, radius of the built-up area in km."""

    name: str
    lat: float
    lon: float
    residents: int
    radius_km: float
    postcode: str
    districts: tuple[str, ...]


TOWNS: tuple[Town, ...] = (
    Town(
        "Port Ellery",
        -37.020,
        160.020,
        82000,
        6.0,
        "7801",
        ("Ropewalk", "Castle Hill", "Saltmarket", "Northgate", "Lantern Quay"),
    ),
    Town("Quillhaven", -36.780, 160.205, 24000, 3.0, "7814", ("Old Harbour", "Penfold", "Weir End")),
    Town("Gannet Bay", -36.925, 160.180, 18000, 2.5, "7809", ("Strand", "Cliffside", "Gull Park")),
    Town("Larch Flat", -37.080, 159.740, 14000, 2.5, "7822", ("Mill Green", "Station Side")),
    Town("Dunmarrow", -37.290, 159.870, 12500, 2.2, "7831", ("Upper Dunmarrow", "Kiln Row")),
    Town("Pellbridge", -36.860, 159.820, 11000, 2.0, "7818", ("Bridge End", "Tannery")),
    Town("Thistle Head", -37.210, 160.115, 9000, 2.0, "7827", ("Lighthouse", "Thistle Park")),
    Town("Brackmoor", -36.650, 159.900, 7000, 1.6, "7840", ("Moorside",)),
    Town("Sallow Creek", -37.380, 160.050, 5200, 1.5, "7845", ("Creekside",)),
)

SHORE: tuple[tuple[float, float], ...] = (
    (-35.20, 159.90), (-35.80, 160.08), (-36.40, 160.16), (-36.50, 160.19), (-36.58, 160.17), (-36.66, 160.22), (-36.74, 160.25), (-36.79, 160.245),
    (-36.83, 160.20), (-36.88, 160.21), (-36.93, 160.215), (-36.96, 160.17), (-36.99, 160.10), (-37.02, 160.085),
    (-37.06, 160.09), (-37.11, 160.13), (-37.17, 160.16), (-37.22, 160.155), (-37.27, 160.11), (-37.33, 160.09),
    (-37.39, 160.085), (-37.46, 160.06), (-37.55, 160.08), (-37.62, 160.05),
    (-38.10, 159.93), (-38.80, 159.80),
)  # fmt: skip
WEST = 157.9
ROADS: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("Shore Road", ("Quillhaven", "Gannet Bay", "Port Ellery", "Thistle Head", "Sallow Creek")),
    ("Inland Highway", ("Brackmoor", "Pellbridge", "Larch Flat", "Dunmarrow", "Sallow Creek")),
    ("Drovers Way", ("Pellbridge", "Port Ellery", "Larch Flat")),
    ("Marrow Road", ("Dunmarrow", "Thistle Head")),
    ("Moor Road", ("Brackmoor", "Quillhaven")),
)


def shore_longitude(lat: float) -> float:
    """Longitude of the shoreline at a latitude: land is to the west of it."""
    for (north, east), (south, west) in pairwise(SHORE):
        if south <= lat <= north:
            share = (lat - north) / (south - north)
            return east + share * (west - east)
    return SHORE[0][1]


def district_points(town: Town) -> list[tuple[str, float, float]]:
    """(name, latitude, longitude) of each district, in a ring on the land side."""
    points = []
    for index, name in enumerate(town.districts):
        angle = math.radians(120 + 210 * index / max(1, len(town.districts)))
        lat = town.lat + math.sin(angle) * town.radius_km * 0.55 / 111
        lon = town.lon + math.cos(angle) * town.radius_km * 0.55 / 88.6
        points.append((name, round(lat, 5), round(lon, 5)))
    return points


def _feature(kind: str, name: str, geometry: str, coordinates: Any, **more: Any) -> dict[str, Any]:
    return {
        "type": "Feature",
        "properties": {"kind": kind, "name": name, **more},
        "geometry": {"type": geometry, "coordinates": coordinates},
    }


def _bend(a: tuple[float, float], b: tuple[float, float], steps: int = 12) -> list[list[float]]:
    """A road between two points that sways a little, always the same way."""
    line = []
    for step in range(steps + 1):
        share = step / steps
        sway = math.sin(share * math.pi) * math.sin(share * 9 + a[0] * 50) * 0.008
        lat, lon = a[0] + (b[0] - a[0]) * share + sway, a[1] + (b[1] - a[1]) * share + sway * 0.6
        line.append([round(min(lon, shore_longitude(lat) - 0.004), 5), round(lat, 5)])
    return line


def _blob(town: Town) -> list[list[float]]:
    ring = []
    for step in range(37):
        angle = math.radians(step % 36 * 10)
        swell = 0.62 + 0.08 * math.sin(3 * angle + town.lat * 40) + 0.05 * math.sin(5 * angle)
        lat = town.lat + math.sin(angle) * town.radius_km * swell / 111
        lon = town.lon + math.cos(angle) * town.radius_km * swell / 88.6
        ring.append([round(min(lon, shore_longitude(lat) - 0.002), 5), round(lat, 5)])
    return ring


def ground() -> dict[str, Any]:
    """The map as GeoJSON (RFC 7946): land, built-up areas, roads, towns and districts."""
    shore = [[lon, lat] for lat, lon in SHORE]
    land = [*shore, [WEST, SHORE[-1][0]], [WEST, SHORE[0][0]], shore[0]]
    where = {town.name: (town.lat, town.lon) for town in TOWNS}
    features = [_feature("land", "Tarrow Coast", "Polygon", [land[::-1]])]
    features += [_feature("built-up", town.name, "Polygon", [_blob(town)]) for town in TOWNS]
    for name, stops in ROADS:
        line = [_bend(where[a], where[b]) for a, b in pairwise(stops)]
        features.append(_feature("road", name, "LineString", [point for part in line for point in part]))
    for town in TOWNS:
        features.append(_feature("town", town.name, "Point", [town.lon, town.lat], residents=town.residents))
        features += [_feature("district", name, "Point", [lon, lat]) for name, lat, lon in district_points(town)]
    return {"type": "FeatureCollection", "features": features}


def places() -> list[dict[str, Any]]:
    """The coast's gazetteer: towns and their districts, with residents."""
    found: list[dict[str, Any]] = []
    for town in TOWNS:
        found.append({"name": town.name, "within": "Tarrow Coast", "lat": town.lat, "lon": town.lon, "kind": "town",
                      "residents": town.residents, "radius_km": town.radius_km})  # fmt: skip
        found.append({"name": town.postcode, "within": town.name, "lat": town.lat, "lon": town.lon, "kind": "postcode",
                      "residents": 0, "radius_km": town.radius_km})  # fmt: skip
        for name, lat, lon in district_points(town):
            found.append({"name": name, "within": town.name, "lat": lat, "lon": lon, "kind": "district",
                          "residents": 0, "radius_km": round(town.radius_km / 3, 1)})  # fmt: skip
    return found


def regions() -> list[dict[str, Any]]:
    """The coast's councils with their boundaries, and the coast as a whole: {name, within, parts}."""
    import shapely  # drawing the world needs it, serving it does not

    south, north = -37.62, -36.4
    shore = [(lon, lat) for lat, lon in SHORE if south <= lat <= north]
    coast = shapely.Polygon([(shore_longitude(north), north), *shore, (shore_longitude(south), south), (159.45, south), (159.45, north)])  # fmt: skip
    cells = shapely.voronoi_polygons(
        shapely.MultiPoint([(town.lon, town.lat) for town in TOWNS]), extend_to=coast, ordered=True
    )
    found = [{"name": "Tarrow Coast", "within": "Tarrow", "parts": [_rings(coast)]}]
    for town, cell in zip(TOWNS, cells.geoms, strict=True):
        found.append(
            {"name": f"{town.name} District", "within": "Tarrow Coast", "parts": [_rings(cell.intersection(coast))]}
        )
    return found


def _rings(shape: Any) -> list[list[list[float]]]:
    largest = max(getattr(shape, "geoms", [shape]), key=lambda part: part.area)
    return [[[round(x, 5), round(y, 5)] for x, y in largest.exterior.coords]]
