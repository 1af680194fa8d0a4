"""Coverage, comparisons of runs, what stands around a business, and finding one."""

from typing import Any

from fastapi import APIRouter, Query

from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.business.store import businesses, companies
from openacorn.core.audit.extract.phone_numbers import parse_phone
from openacorn.core.gather.coverage import ASSUMPTION
from openacorn.core.gather.listing import officers_of
from openacorn.core.geo.geodesy import Point, distance_m
from openacorn.gather.coverage import compare, coverage_of
from openacorn.gather.growth import RunGrowth, growth
from openacorn.gather.reach import source_titles, title_of
from openacorn.gather.schemas.coverage import (
    ChangeResponse,
    CompanyResponse,
    ComparisonResponse,
    CoverageLine,
    CoverageResponse,
    FoundResponse,
    NearbyResponse,
    OfficerResponse,
    SisterResponse,
)
from openacorn.runs.store import sweeps

router = APIRouter(route_class=DeskRoute, tags=["gathering"])
CHANGES_SHOWN = 500
NEARBY_DEGREES = 0.25
"""About 28 km of latitude: farther off is not nearby."""


@router.get("/coverage")
def get_coverage(state: AppDep, sweep: int | None = None) -> CoverageResponse:
    """How many businesses are held of about how many there are, by trade, from the overlap of the sources."""
    with state.database.read() as conn:
        if sweep is not None:
            sweeps.get_plan(conn, sweep)
        found = coverage_of(conn, sweep)
        sources = {source for item in found.values() for source in item.by_source}
        known = source_titles(conn)
        titles = {source: known.get(source, source) for source in sorted(sources)}
    lines = [CoverageLine.model_validate({"trade": trade, **_plain(item)}) for trade, item in found.items()]
    return CoverageResponse(lines=lines, assumption=ASSUMPTION, titles=titles)


def _plain(item: Any) -> dict[str, Any]:
    return {name: getattr(item, name) for name in CoverageLine.model_fields if name != "trade"}


@router.get("/runs/{run_id}/compare/{earlier}")
def compare_runs(state: AppDep, run_id: int, earlier: int) -> ComparisonResponse:
    """What is new, gone and changed in a run since an earlier one of the same sweep."""
    with state.database.read() as conn:
        changes = compare(conn, earlier, run_id)
        counts = {kind: len({c.business for c in changes if c.kind == kind}) for kind in ("new", "gone", "changed")}
        shown = [c for kind in counts for c in [c for c in changes if c.kind == kind][:CHANGES_SHOWN]]
        rows = {row["id"]: row for row in businesses.get_businesses(conn, [c.business for c in shown])}
    listed = [
        ChangeResponse(
            kind=c.kind, business=c.business, name=rows[c.business]["name"], town=rows[c.business]["town"], field=c.field,
            before=c.before, after=c.after,
        )
        for c in shown
        if c.business in rows
    ]  # fmt: skip
    return ComparisonResponse(counts=counts, changes=listed, shown=CHANGES_SHOWN)


@router.get("/businesses/{business_id}/nearby")
def nearby(
    state: AppDep, business_id: int, own_trade: bool = False, limit: int = Query(default=12, ge=1, le=100)
) -> list[NearbyResponse]:
    """The other businesses around one, nearest first; of any trade, or of its own."""
    with state.database.read() as conn:
        row = businesses.get_business(conn, business_id)
        if row["lat"] is None or row["lon"] is None:
            return []
        here = Point(row["lat"], row["lon"])
        others = [
            item
            for item in businesses.nearby(conn, row, NEARBY_DEGREES)
            if not own_trade or item["trade"] == row["trade"]
        ]
    rows = [
        NearbyResponse(**{**_named(item), "metres": distance_m(here, Point(item["lat"], item["lon"]))})
        for item in others
    ]
    return sorted(rows, key=lambda item: (item.metres, item.id))[:limit]


def _named(item: dict[str, Any]) -> dict[str, Any]:
    return {name: item[name] for name in NearbyResponse.model_fields if name != "metres"}


@router.get("/find")
def find(
    state: AppDep, q: str = Query(min_length=2, max_length=200), limit: int = Query(default=12, ge=1, le=50)
) -> list[FoundResponse]:
    """Businesses by name (as typed, else close in spelling), phone or site."""
    text, number = q.strip(), parse_phone(q, state.settings.region) or ""
    with state.database.read() as conn:
        by_phone = businesses.find_by_phone(conn, number, limit)
    with state.snapshot.current() as grid:
        found = list(dict.fromkeys([*by_phone, *grid.find(text, limit)]))[:limit]
        close = grid.find_close(text, limit - len(found), found) if len(found) < limit else []
    with state.database.read() as conn:
        rows = [dict(row) for row in businesses.get_businesses(conn, [*found, *close])]
    alike = frozenset(close)
    known = [row | {"why": "close in spelling" if row["id"] in alike else ""} for row in rows]
    return [FoundResponse.model_validate({name: row[name] for name in FoundResponse.model_fields}) for row in known]


@router.get("/sweeps/{sweep_id}/growth")
def get_growth(state: AppDep, sweep_id: int) -> list[RunGrowth]:
    """Every finished run of a sweep: what it saw, what was new and gone, how many are known so far."""
    with state.database.read() as conn:
        return growth(conn, sweep_id)


@router.get("/businesses/{business_id}/company")
def get_company(state: AppDep, business_id: int) -> CompanyResponse | None:
    """The company behind a business as its register has it, how sure the join is, and its kin; null if none is joined."""
    with state.database.read() as conn:
        row = businesses.get_business(conn, business_id)
        entry = companies.entry(conn, row["company_id"]) if row["company_id"] is not None else None
        if entry is None:
            return None
        kin = companies.family(conn, row)
        source = title_of(conn, entry.listing.source)
    listing, facts = entry.listing, entry.listing.extra
    return CompanyResponse(
        number=listing.source_id, name=listing.name, trading_as=str(facts.get("trading_as") or ""), confidence=row["company_sure"],
        status="struck off" if listing.status == "closed" else "registered", incorporated=str(facts.get("incorporated") or ""),
        office=", ".join(filter(None, (listing.street, listing.town, listing.postcode))), revenue_band=row["revenue_band"],
        parent=row["parent"], source=source, seen_at=entry.seen_at,
        officers=[OfficerResponse(name=name, role=role) for name, role in officers_of(str(facts.get("officers") or ""))],
        kin=[SisterResponse.model_validate({name: item[name] for name in SisterResponse.model_fields}) for item in kin],
    )  # fmt: skip
