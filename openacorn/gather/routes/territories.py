"""Territories and regions: read, keep, look at with what is held there."""

from typing import Any

import orjson
from fastapi import APIRouter, Query

from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.clock import utc_now
from openacorn.core.geo.geodesy import AreaError
from openacorn.core.geo.territory import areas_of_geojson, checked_territory
from openacorn.gather.estimate import held_points
from openacorn.gather.schemas.coverage import (
    AreasRequest,
    AreasResponse,
    KnownCountsResponse,
    TerritoryRequest,
    TerritoryResponse,
    TextRequest,
)
from openacorn.gather.schemas.sweeps import AreaResponse
from openacorn.gather.store import places, regions, territories
from openacorn.gather.store.regions import Region

router = APIRouter(route_class=DeskRoute, tags=["territories"])
PINS_SHOWN = 5000
IMPORTED = "imported"


def _geojson(asked: TextRequest) -> list[dict[str, Any]]:
    try:
        value = orjson.loads(asked.text)
    except orjson.JSONDecodeError as error:
        raise AreaError(f"this is no JSON: {error}") from None
    return areas_of_geojson(value, asked.name or IMPORTED)


@router.post("/territories/geojson")
def read_geojson(asked: TextRequest) -> AreasResponse:
    """Areas out of GeoJSON (RFC 7946): every polygon and multipolygon of it."""
    return AreasResponse(areas=[AreaResponse(**area) for area in _geojson(asked)], unknown=[])


@router.post("/territories/names")
def read_names(state: AppDep, asked: TextRequest) -> AreasResponse:
    """Circles round towns, districts and postcodes that were pasted, one a line or set off by commas."""
    wanted = list(dict.fromkeys(part.strip() for part in asked.text.replace(",", "\n").splitlines() if part.strip()))
    areas, unknown = [], []
    with state.database.read() as conn:
        for text in wanted[:500]:
            place = places.place_named(conn, text)
            if place is None:
                unknown.append(text)
            else:
                areas.append(
                    AreaResponse(name=place.name, lat=place.lat, lon=place.lon, radius_m=place.radius_km * 1000)
                )
    return AreasResponse(areas=areas, unknown=unknown + wanted[500:])


@router.get("/territories")
def list_territories(state: AppDep) -> list[TerritoryResponse]:
    """Kept territories with what is held in each."""
    with state.database.read() as conn:
        kept = territories.list_territories(conn)
    with state.snapshot.current() as grid:
        pins = held_points(grid)
    result = []
    for item in kept:
        territory = checked_territory(item.areas)
        held = int(territory.contains_many(pins.points).sum())
        result.append(
            TerritoryResponse(
                id=item.id,
                name=item.name,
                areas=[AreaResponse(**area) for area in item.areas],
                held=held,
                private=item.private,
            )
        )
    return result


@router.post("/territories", status_code=201)
def add_territory(state: AppDep, asked: TerritoryRequest) -> TerritoryResponse:
    """Keep areas under a name."""
    areas: list[dict[str, Any]] = [area.model_dump(exclude_none=True) for area in asked.areas]
    checked_territory(areas)
    with state.database.write() as conn:
        made = territories.add_territory(conn, asked.name.strip(), areas, utc_now())
    return TerritoryResponse(id=made, name=asked.name.strip(), areas=[AreaResponse(**area) for area in areas], held=0)


@router.delete("/territories/{territory_id}", status_code=204)
def drop_territory(state: AppDep, territory_id: int) -> None:
    """Forget a territory; sweeps that used it keep their areas."""
    with state.database.write() as conn:
        territories.drop_territory(conn, territory_id)


@router.post("/territories/held")
def held_in(state: AppDep, asked: AreasRequest) -> KnownCountsResponse:
    """What is held already in some areas: how many, of which trades, and their pins."""
    territory = checked_territory([area.model_dump(exclude_none=True) for area in asked.areas])
    with state.snapshot.current() as grid:
        held = held_points(grid)
    inside = territory.contains_many(held.points)
    total = int(inside.sum())
    pins = held.pins(inside, PINS_SHOWN)
    return KnownCountsResponse(total=total, trades=held.trades_of(inside), pins=pins, cut=total > PINS_SHOWN)


@router.get("/regions")
def find_regions(
    state: AppDep, q: str = Query(default="", max_length=100), limit: int = Query(default=6, ge=1, le=50)
) -> list[Region]:
    """Regions with a boundary, by name: countries that ship with the product, and what was imported."""
    with state.database.read() as conn:
        return regions.search_regions(conn, q.strip(), limit)


@router.get("/regions/{region_id}/areas")
def areas_of(state: AppDep, region_id: int) -> AreasResponse:
    """A region as areas of a plan."""
    with state.database.read() as conn:
        found = regions.areas_of_region(conn, region_id)
    return AreasResponse(areas=[AreaResponse(**area) for area in found], unknown=[])


@router.post("/regions", status_code=201)
def import_regions(state: AppDep, asked: TextRequest) -> list[Region]:
    """Keep the polygons of a GeoJSON file as regions, under the names they have there."""
    parts: dict[str, list[Any]] = {}
    for area in _geojson(asked):
        parts.setdefault(area["name"], []).append(area["rings"])
    with state.database.write() as conn:
        made = [{"name": name, "within": IMPORTED, "parts": rings} for name, rings in parts.items()]
        regions.add_regions(conn, made)
        found = [region for name in parts for region in regions.search_regions(conn, name, 50) if region.name == name]
    return [region for region in found if region.within == IMPORTED]
