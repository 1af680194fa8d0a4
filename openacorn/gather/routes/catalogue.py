"""What the product knows of itself."""

from typing import Annotated

from fastapi import APIRouter, Path, Query
from fastapi.responses import FileResponse, JSONResponse, Response

from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.business.store import businesses, own_trades
from openacorn.clock import utc_now
from openacorn.core.audit.check import all_checks
from openacorn.core.geo.tiles import Tile
from openacorn.core.trades.catalogue import OWN_PREFIX, made_trade
from openacorn.core.trades.trade import Trade
from openacorn.gather.ground import ground_of
from openacorn.gather.schemas.catalogue import (
    CheckInfo,
    SourceInfo,
    Status,
    TradeInfo,
    TradeRequest,
)
from openacorn.gather.sources._source import all_sources, services
from openacorn.gather.store import places as place_store
from openacorn.gather.store import recipes
from openacorn.gather.store.places import Place
from openacorn.match import country
from openacorn.runs.store import sweeps as sweep_store

router = APIRouter(route_class=DeskRoute, tags=["catalogue"])
EMPTY_MAP = {"type": "FeatureCollection", "features": []}


@router.get("/status")
def status(state: AppDep) -> Status:
    """The installation at a glance."""
    with state.database.read() as conn:
        running = sweep_store.running(conn)
        fresh = not (state.settings.set_up or sweep_store.list_sweeps(conn) or businesses.any_there(conn))
    settings = state.settings
    return Status(
        agency=settings.agency,
        country=settings.region or "",
        currency=settings.currency,
        locale=settings.written_as,
        home=settings.home,
        has_ground_map=settings.ground_map is not None,
        has_tiles=bool(settings.map_tiles),
        map_attribution=settings.map_attribution,
        source_ready=any(source.endpoint for source in settings.sources.values()),
        demo=settings.world is not None,
        own_data=state.leaving is not None and state.leaving.own_data,
        units=settings.units,
        fresh=fresh,
        running=running,
    )


@router.get("/countries")
def list_countries() -> list[str]:
    """Countries that can be set: ISO 3166 codes."""
    return country.countries()


@router.get("/map")
def ground_map(state: AppDep) -> Response:
    """The ground below the pins, as GeoJSON (RFC 7946)."""
    if state.settings.ground_map is None:
        return JSONResponse(EMPTY_MAP)
    return FileResponse(state.settings.ground_map, media_type="application/geo+json")


@router.get("/map/world")
def world_map(
    state: AppDep,
    south: Annotated[float, Query(ge=-90, le=90)],
    west: Annotated[float, Query(ge=-540, le=540)],
    north: Annotated[float, Query(ge=-90, le=90)],
    east: Annotated[float, Query(ge=-540, le=540)],
) -> JSONResponse:
    """The shipped ground of one view, as GeoJSON (RFC 7946)."""
    with state.database.read() as conn:
        found = ground_of(conn, Tile(min(south, north), min(west, east), max(south, north), max(west, east), ""))
    return JSONResponse(found, headers={"Cache-Control": "private, max-age=3600"})


@router.get("/map/tiles/{z}/{x}/{y}")
async def map_tile(
    state: AppDep, z: Annotated[int, Path(ge=0, le=22)], x: Annotated[int, Path(ge=0)], y: Annotated[int, Path(ge=0)]
) -> Response:
    """A picture of the map from the service that the settings name."""
    kind, body = await state.tiles.tile(state.settings, z, x, y)
    return Response(body, media_type=kind, headers={"Cache-Control": "private, max-age=86400"})


@router.get("/places")
def places(
    state: AppDep,
    q: str = Query(default="", max_length=100),
    limit: int = Query(default=12, ge=1, le=50),
    country: str = Query(default="", max_length=80),
) -> list[Place]:
    """Places by name; those of a country (its English name) first."""
    with state.database.read() as conn:
        return place_store.search_places(conn, q.strip(), limit, country)


@router.get("/trades")
def trades(state: AppDep) -> list[TradeInfo]:
    """Every trade that can be swept."""
    return [_trade(trade) for trade in state.trades().trades]


def _trade(trade: Trade) -> TradeInfo:
    return TradeInfo(
        id=trade.id, label=trade.label, plural=trade.plural, words=list(trade.words), terms=list(trade.terms),
        parent=trade.parent, codes=list(trade.codes), own=trade.id.startswith(OWN_PREFIX),
    )  # fmt: skip


@router.post("/trades", status_code=201)
def add_trade(state: AppDep, asked: TradeRequest) -> TradeInfo:
    """Add a trade of the user's own; under a wider one it takes that one's map tags and industry codes."""
    trade = made_trade(
        asked.label, asked.plural, asked.words, asked.parent, (trade.id for trade in state.trades().trades)
    )
    with state.database.write() as conn:
        own_trades.add_trade(conn, trade, utc_now())
    return _trade(trade)


@router.delete("/trades/{trade_id:path}", status_code=204)
def drop_trade(state: AppDep, trade_id: str) -> None:
    """Take one of the user's own trades away, unless a saved sweep or a held business is of it."""
    with state.database.write() as conn:
        own_trades.drop_trade(conn, trade_id)


API_HINT, BUSINESS_HINT = "a JSON API read by your recipe", "asked who is at each business that is audited"


@router.get("/sources")
def sources(state: AppDep) -> list[SourceInfo]:
    """Every source that a sweep can name: connectors, and directories by their recipes."""
    with state.database.read() as conn:
        plans, apis = recipes.list_recipes(conn), recipes.list_apis(conn)
    found = [
        SourceInfo(
            id=f"api:{api.id}", title=api.title, hint=BUSINESS_HINT if api.recipe.by == "business" else API_HINT, ready=True,
            by=api.recipe.by, cap=api.recipe.cap or None, pace_s=api.recipe.pace_s, cost=api.recipe.cost_per_request,
            row_cost=api.recipe.cost_per_row, joins=False,
        )
        for api in apis
    ]  # fmt: skip
    for source in all_sources().values():
        kept = state.settings.source(source.id)
        if source.id == "directory":
            found += [
                SourceInfo(
                    id=f"directory:{plan.id}", title=plan.title, hint="a directory read by your recipe", ready=True, by=source.by,
                    cap=None, pace_s=plan.plan.pace_s, cost=0.0, row_cost=0.0, joins=False,
                )
                for plan in plans
            ]  # fmt: skip
        elif source in services():
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
