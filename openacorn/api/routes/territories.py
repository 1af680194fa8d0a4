"""Territories and regions: read, keep, look at with what is held there."""

from typing import Any

import orjson
from fastapi import APIRouter, Query

from openacorn.api.deps import Desk
from openacorn.api.models.gathering import (
    AreasAsked,
    AreasTold,
    HeldTold,
    RegionTold,
    TerritoryAsked,
    TerritoryTold,
    TextAsked,
)
from openacorn.api.models.sweeps import AreaTold
from openacorn.api.threads import DeskRoute
from openacorn.core.geo.geodesy import AreaError
from openacorn.core.geo.territory import areas_of_geojson, checked_territory
from openacorn.jobs.estimating import held_points
from openacorn.net.probes.site import now
from openacorn.store import places, regions, territories

router = APIRouter(route_class=DeskRoute, tags=["territories"])
PINS_SHOWN = 5000
IMPORTED = "imported"


def _geojson(asked: TextAsked) -> list[dict[str, Any]]:
    try:
        value = orjson.loads(asked.text)
    except orjson.JSONDecodeError as error:
        raise AreaError(f"this is no JSON: {error}") from None
    return areas_of_geojson(value, asked.name or IMPORTED)


@router.post("/territories/geojson")
def read_geojson(asked: TextAsked) -> AreasTold:
    """Areas out of GeoJSON (RFC 7946): every polygon and multipolygon of it."""
    return AreasTold(areas=[AreaTold(**area) for area in _geojson(asked)], unknown=[])


@router.post("/territories/names")
def read_names(desk: Desk, asked: TextAsked) -> AreasTold:
    """Circles round towns, districts and postcodes that were pasted, one a line or set off by commas."""
    wanted = list(dict.fromkeys(part.strip() for part in asked.text.replace(",", "\n").splitlines() if part.strip()))
    areas, unknown = [], []
    with desk.database.read() as conn:
        for text in wanted[:500]:
            place = places.place_named(conn, text)
            if place is None:
                unknown.append(text)
            else:
                areas.append(AreaTold(name=place.name, lat=place.lat, lon=place.lon, radius_m=place.radius_km * 1000))
    return AreasTold(areas=areas, unknown=unknown + wanted[500:])


@router.get("/territories")
def list_territories(desk: Desk) -> list[TerritoryTold]:
    """Kept territories with what is held in each."""
    with desk.database.read() as conn:
        kept = territories.list_territories(conn)
    with desk.snapshot.current() as grid:
        pins = held_points(grid)
    told = []
    for item in kept:
        territory = checked_territory(item.areas)
        held = int(territory.contains_many(pins.points).sum())
        told.append(
            TerritoryTold(id=item.id, name=item.name, areas=[AreaTold(**area) for area in item.areas], held=held)
        )
    return told


@router.post("/territories", status_code=201)
def add_territory(desk: Desk, asked: TerritoryAsked) -> TerritoryTold:
    """Keep areas under a name."""
    areas: list[dict[str, Any]] = [area.model_dump(exclude_none=True) for area in asked.areas]
    checked_territory(areas)
    with desk.database.write() as conn:
        made = territories.add_territory(conn, asked.name.strip(), areas, now())
    return TerritoryTold(id=made, name=asked.name.strip(), areas=[AreaTold(**area) for area in areas], held=0)


@router.delete("/territories/{territory_id}", status_code=204)
def drop_territory(desk: Desk, territory_id: int) -> None:
    """Forget a territory; sweeps that used it keep their areas."""
    with desk.database.write() as conn:
        territories.drop_territory(conn, territory_id)


@router.post("/territories/held")
def held_in(desk: Desk, asked: AreasAsked) -> HeldTold:
    """What is held already in some areas: how many, of which trades, and their pins."""
    territory = checked_territory([area.model_dump(exclude_none=True) for area in asked.areas])
    with desk.snapshot.current() as grid:
        held = held_points(grid)
    inside = territory.contains_many(held.points)
    total = int(inside.sum())
    pins = held.pins(inside, PINS_SHOWN)
    return HeldTold(total=total, trades=held.trades_of(inside), pins=pins, cut=total > PINS_SHOWN)


@router.get("/regions")
def find_regions(
    desk: Desk, q: str = Query(default="", max_length=100), limit: int = Query(default=6, ge=1, le=50)
) -> list[RegionTold]:
    """Regions with a boundary, by name: countries that ship with the product, and what was imported."""
    with desk.database.read() as conn:
        return [RegionTold.model_validate(region) for region in regions.search_regions(conn, q.strip(), limit)]


@router.get("/regions/{region_id}/areas")
def areas_of(desk: Desk, region_id: int) -> AreasTold:
    """A region as areas of a plan."""
    with desk.database.read() as conn:
        found = regions.areas_of_region(conn, region_id)
    return AreasTold(areas=[AreaTold(**area) for area in found], unknown=[])


@router.post("/regions", status_code=201)
def import_regions(desk: Desk, asked: TextAsked) -> list[RegionTold]:
    """Keep the polygons of a GeoJSON file as regions, under the names they have there."""
    parts: dict[str, list[Any]] = {}
    for area in _geojson(asked):
        parts.setdefault(area["name"], []).append(area["rings"])
    with desk.database.write() as conn:
        made = [{"name": name, "within": IMPORTED, "parts": rings} for name, rings in parts.items()]
        regions.add_regions(conn, made)
        found = [region for name in parts for region in regions.search_regions(conn, name, 50) if region.name == name]
    return [RegionTold.model_validate(region) for region in found if region.within == IMPORTED]
