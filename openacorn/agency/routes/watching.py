"""For the people who watch over the installation: is it alive, can it work, what does it count?"""

from fastapi import APIRouter, Response

from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.business.store import counts

router = APIRouter(route_class=DeskRoute, tags=["watching"])


@router.get("/health/live")
async def live() -> str:
    """Does it answer at all? If not, start it again."""
    return "alive"


@router.get("/health/ready")
def ready(state: AppDep) -> str:
    """Can it work: is the database there and read? While it is not, send nobody here."""
    with state.database.read() as conn:
        counts.count_all(conn)
    return "ready"


@router.get("/metrics", response_class=Response)
def metrics(state: AppDep) -> Response:
    """Figures in the text format of Prometheus; they name no person and no business."""
    return Response(state.metrics.page(state.database), media_type="text/plain; version=0.0.4; charset=utf-8")
