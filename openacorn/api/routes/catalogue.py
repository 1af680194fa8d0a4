"""What the product knows of itself."""

from fastapi import APIRouter, Query
from fastapi.responses import FileResponse, JSONResponse, Response

from openacorn.api.deps import Desk
from openacorn.api.models.catalogue import CheckInfo, PlaceFound, RuleInfo, ServiceInfo, Status, TradeInfo
from openacorn.core.audit.check import all_checks
from openacorn.core.audit.finding import Outcome
from openacorn.core.scoring.need import severity_of
from openacorn.core.scoring.service import all_services
from openacorn.core.trades.catalogue import TRADES
from openacorn.store import places as place_store
from openacorn.store import sweeps as sweep_store

router = APIRouter(tags=["catalogue"])
EMPTY_MAP = {"type": "FeatureCollection", "features": []}


@router.get("/status")
def status(desk: Desk) -> Status:
    """The installation at a glance."""
    with desk.database.read() as conn:
        running = sweep_store.running(conn)
    settings = desk.settings
    return Status(
        agency=settings.agency,
        currency=settings.currency,
        home=settings.home,
        has_ground_map=settings.ground_map is not None,
        source_ready=bool(settings.listing_service.endpoint),
        demo=settings.world is not None,
        running=running,
    )


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
def trades() -> list[TradeInfo]:
    """Every trade that can be swept."""
    return [TradeInfo(id=t.id, label=t.label, plural=t.plural, words=list(t.words)) for t in TRADES]


@router.get("/checks")
def checks() -> list[CheckInfo]:
    """Every check, in the order of the audit strip."""
    return [CheckInfo(id=c.id, group=str(c.group), title=c.title, why=c.why) for c in all_checks()]


@router.get("/services")
def services() -> list[ServiceInfo]:
    """What the agency sells, with fees, gates and rules."""
    titles = {check.id: check.title for check in all_checks()}
    return [
        ServiceInfo(
            id=s.id,
            title=s.title,
            sentence=s.sentence,
            fee=s.fee,
            monthly=s.monthly,
            months=s.months,
            delivery=s.delivery,
            margin=s.margin,
            gates=[f"{titles[gate.check]}: {' or '.join(sorted(gate.passes))}" for gate in s.gates],
            rules=[
                RuleInfo(
                    check=rule.check,
                    title=titles[rule.check],
                    weight=rule.weight,
                    decisive=rule.decisive,
                    gap_severity=severity_of(rule, Outcome.GAP) or 0.0,
                )
                for rule in s.rules
            ],
        )
        for s in all_services()
    ]
