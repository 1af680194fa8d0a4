"""What the product knows of itself."""

from fastapi import APIRouter, Query
from fastapi.responses import FileResponse, JSONResponse, Response

from openacorn.api.deps import Desk
from openacorn.api.models.catalogue import (
    CheckInfo,
    CountryRequest,
    PlaceFound,
    SourceInfo,
    Status,
    TradeAsked,
    TradeInfo,
)
from openacorn.api.threads import DeskRoute
from openacorn.core.audit.check import all_checks
from openacorn.core.trades.catalogue import OWN_PREFIX, made_trade
from openacorn.core.trades.trade import Trade
from openacorn.jobs import country
from openacorn.net.probes.site import now
from openacorn.sources._source import all_sources
from openacorn.store import own_trades, reading_plans
from openacorn.store import places as place_store
from openacorn.store import sweeps as sweep_store

router = APIRouter(route_class=DeskRoute, tags=["catalogue"])
EMPTY_MAP = {"type": "FeatureCollection", "features": []}


@router.get("/status")
def status(desk: Desk) -> Status:
    """The installation at a glance."""
    with desk.database.read() as conn:
        running = sweep_store.running(conn)
    settings = desk.settings
    return Status(
        agency=settings.agency,
        country=settings.region or "",
        currency=settings.currency,
        home=settings.home,
        has_ground_map=settings.ground_map is not None,
        source_ready=any(source.endpoint for source in settings.sources.values()),
        demo=settings.world is not None,
        running=running,
    )


@router.get("/countries")
def list_countries() -> list[str]:
    """Countries that can be set: ISO 3166 codes."""
    return country.countries()


@router.put("/country")
def set_country(desk: Desk, asked: CountryRequest) -> Status:
    """Set the agency's country, in whose format national phone numbers are read; listings are merged again by it."""
    country.set_country(desk.folder, desk.settings, asked.country.upper())
    desk.runs.renew_workers()
    country.read_phones_again(desk.database, desk.settings)
    return status(desk)


@router.get("/map")
def ground_map(desk: Desk) -> Response:
    """The ground below the pins, as GeoJSON (RFC 7946)."""
    if desk.settings.ground_map is None:
        return JSONResponse(EMPTY_MAP)
    return FileResponse(desk.settings.ground_map, media_type="application/geo+json")


@router.get("/places")
def places(
    desk: Desk, q: str = Query(default="", max_length=100), limit: int = Query(default=12, ge=1, le=50)
) -> list[PlaceFound]:
    """Places by name."""
    with desk.database.read() as conn:
        return [PlaceFound.model_validate(place) for place in place_store.search_places(conn, q.strip(), limit)]


@router.get("/trades")
def trades(desk: Desk) -> list[TradeInfo]:
    """Every trade that can be swept."""
    return [_trade(trade) for trade in desk.trades().trades]


def _trade(trade: Trade) -> TradeInfo:
    return TradeInfo(
        id=trade.id, label=trade.label, plural=trade.plural, words=list(trade.words), terms=list(trade.terms),
        parent=trade.parent, codes=list(trade.codes), own=trade.id.startswith(OWN_PREFIX),
    )  # fmt: skip


@router.post("/trades", status_code=201)
def add_trade(desk: Desk, asked: TradeAsked) -> TradeInfo:
    """Add a trade of the user's own; under a wider one it takes that one's map tags and industry codes."""
    trade = made_trade(
        asked.label, asked.plural, asked.words, asked.parent, (trade.id for trade in desk.trades().trades)
    )
    with desk.database.write() as conn:
        own_trades.add_trade(conn, trade, now())
    return _trade(trade)


@router.delete("/trades/{trade_id:path}", status_code=204)
def drop_trade(desk: Desk, trade_id: str) -> None:
    """Take one of the user's own trades away, unless a saved sweep or a held business is of it."""
    with desk.database.write() as conn:
        own_trades.drop_trade(conn, trade_id)


@router.get("/sources")
def sources(desk: Desk) -> list[SourceInfo]:
    """Every source that a sweep can name: connectors, and directories by their reading plans."""
    with desk.database.read() as conn:
        plans = reading_plans.list_plans(conn)
    found = []
    for source in all_sources().values():
        kept = desk.settings.source(source.id)
        if source.id == "directory":
            found += [
                SourceInfo(
                    id=f"directory:{plan.id}", title=plan.title, hint="a directory read by your plan", ready=True, by=source.by,
                    cap=None, pace_s=plan.plan.pace_s, cost=0.0, row_cost=0.0, joins=False,
                )
                for plan in plans
            ]  # fmt: skip
        elif source.by != "once":
            found.append(
                SourceInfo(
                    id=source.id, title=source.title, hint=source.hint, ready=bool(kept.endpoint), by=source.by,
                    cap=source.cap, pace_s=kept.pace_s, cost=kept.cost_per_request, row_cost=kept.cost_per_row, joins=source.joins,
                )
            )  # fmt: skip
    return found


@router.get("/checks")
def checks() -> list[CheckInfo]:
    """Every check, in the order of the audit strip."""
    return [CheckInfo(id=c.id, group=str(c.group), title=c.title, why=c.why) for c in all_checks()]
