"""Territories, coverage, comparisons of runs, and finding one business."""

from typing import Any

import orjson
from fastapi import APIRouter, Query
from rapidfuzz import fuzz, process

from openacorn.api.deps import Desk
from openacorn.api.models.gathering import (
    AreasTold,
    ChangeTold,
    ComparisonTold,
    CoverageLine,
    CoverageTold,
    FoundTold,
    NearbyTold,
    TerritoryAsked,
    TerritoryTold,
    TextAsked,
)
from openacorn.api.models.sweeps import AreaTold
from openacorn.core.audit.extract.contacts import parse_phone
from openacorn.core.coverage import ASSUMPTION
from openacorn.core.geo.geodesy import AreaError, Point, distance_m
from openacorn.core.geo.territory import areas_of_geojson, checked_territory
from openacorn.core.matching.normalise import plain
from openacorn.jobs.covering import compare, coverage_of
from openacorn.jobs.gathering import title_of
from openacorn.net.probes.site import now
from openacorn.store import businesses, places, sweeps, territories

router = APIRouter(tags=["gathering"])
CLOSE_SPELLING = 80
CHANGES_SHOWN = 500
NEARBY_DEGREES = 0.25
"""About 28 km of latitude: farther off is not nearby."""


@router.post("/territories/geojson")
def read_geojson(asked: TextAsked) -> AreasTold:
    """Areas out of GeoJSON (RFC 7946): every polygon and multipolygon of it."""
    try:
        value = orjson.loads(asked.text)
    except orjson.JSONDecodeError as error:
        raise AreaError(f"this is no JSON: {error}") from None
    return AreasTold(areas=[AreaTold(**area) for area in areas_of_geojson(value, asked.name or "imported")], unknown=[])


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
        pins = [Point(lat, lon) for _, lat, lon in businesses.held_points(conn)]
    told = []
    for item in kept:
        territory = checked_territory(item.areas)
        held = sum(territory.contains(pin) for pin in pins)
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


@router.get("/coverage")
def get_coverage(desk: Desk, sweep: int | None = None) -> CoverageTold:
    """How many businesses are held of about how many there are, by trade, from the overlap of the sources."""
    with desk.database.read() as conn:
        if sweep is not None:
            sweeps.get_plan(conn, sweep)
        found = coverage_of(conn, sweep)
        sources = {source for item in found.values() for source in item.by_source}
        titles = {source: title_of(conn, source) for source in sorted(sources)}
    lines = [CoverageLine.model_validate({"trade": trade, **_plain(item)}) for trade, item in found.items()]
    return CoverageTold(lines=lines, assumption=ASSUMPTION, titles=titles)


def _plain(item: Any) -> dict[str, Any]:
    return {name: getattr(item, name) for name in CoverageLine.model_fields if name != "trade"}


@router.get("/runs/{run_id}/compare/{earlier}")
def compare_runs(desk: Desk, run_id: int, earlier: int) -> ComparisonTold:
    """What is new, gone and changed in a run since an earlier one of the same sweep."""
    with desk.database.read() as conn:
        changes = compare(conn, earlier, run_id)
        counts = {kind: len({c.business for c in changes if c.kind == kind}) for kind in ("new", "gone", "changed")}
        shown = [c for kind in counts for c in [c for c in changes if c.kind == kind][:CHANGES_SHOWN]]
        rows = {row["id"]: row for row in businesses.get_businesses(conn, [c.business for c in shown])}
    told = [
        ChangeTold(
            kind=c.kind, business=c.business, name=rows[c.business]["name"], town=rows[c.business]["town"], field=c.field,
            before=c.before, after=c.after,
        )
        for c in shown
        if c.business in rows
    ]  # fmt: skip
    return ComparisonTold(counts=counts, changes=told, shown=CHANGES_SHOWN)


@router.get("/businesses/{business_id}/nearby")
def nearby(
    desk: Desk, business_id: int, own_trade: bool = False, limit: int = Query(default=12, ge=1, le=100)
) -> list[NearbyTold]:
    """The other businesses around one, nearest first; of any trade, or of its own."""
    with desk.database.read() as conn:
        row = businesses.get_business(conn, business_id)
        if row["lat"] is None or row["lon"] is None:
            return []
        here = Point(row["lat"], row["lon"])
        others = [
            item
            for item in businesses.around(conn, row, NEARBY_DEGREES)
            if not own_trade or item["trade"] == row["trade"]
        ]
    told = [
        NearbyTold(**{**_named(item), "metres": distance_m(here, Point(item["lat"], item["lon"]))}) for item in others
    ]
    return sorted(told, key=lambda item: (item.metres, item.id))[:limit]


def _named(item: dict[str, Any]) -> dict[str, Any]:
    return {name: item[name] for name in NearbyTold.model_fields if name != "metres"}


@router.get("/find")
def find(
    desk: Desk, q: str = Query(min_length=2, max_length=200), limit: int = Query(default=12, ge=1, le=50)
) -> list[FoundTold]:
    """Businesses by name (as typed, else close in spelling), phone or site."""
    number = parse_phone(q, desk.settings.region) or ""
    with desk.database.read() as conn:
        rows = [dict(row) | {"why": ""} for row in businesses.find(conn, q.strip(), number, limit)]
        if len(rows) < limit:
            known = {row["id"] for row in rows}
            names = {business: plain(name) for business, name in businesses.names(conn) if business not in known}
            close = process.extract(
                plain(q), names, scorer=fuzz.WRatio, limit=limit - len(rows), score_cutoff=CLOSE_SPELLING
            )
            more = businesses.get_businesses(conn, [key for _, _, key in close])
            rows += [dict(row) | {"why": "close in spelling"} for row in more]
    return [FoundTold.model_validate({name: row[name] for name in FoundTold.model_fields}) for row in rows]
