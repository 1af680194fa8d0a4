"""Standing lists: clients, people in conversation, people who refused."""

from fastapi import APIRouter

from openacorn.api.deps import Desk
from openacorn.api.models.gathering import StandingsAsked, StandingsTold, StandingTold
from openacorn.api.threads import DeskRoute
from openacorn.core.standing import StandingError, marks_in
from openacorn.jobs import contacting
from openacorn.jobs.settling import judge_standings
from openacorn.net.probes.site import now
from openacorn.store import standings
from openacorn.store.sweeps import NotFound

router = APIRouter(route_class=DeskRoute, tags=["standings"])
SHOWN = 500


def _told(desk: Desk, refused: list[str], changed: int) -> StandingsTold:
    with desk.database.read() as conn:
        entries, counts = standings.list_standings(conn, SHOWN)
    return StandingsTold(
        entries=[StandingTold.model_validate(item) for item in entries],
        counts=counts,
        refused=refused,
        businesses=changed,
    )


@router.get("/standings")
def list_standings(desk: Desk) -> StandingsTold:
    """The newest entries, and how many there are of each kind."""
    return _told(desk, [], 0)


@router.post("/standings", status_code=201)
def add_standings(desk: Desk, asked: StandingsAsked) -> StandingsTold:
    """Take in lines or a file of domains, e-mails, phones or names with a place; businesses that answer to one are held back."""
    marks, refused = marks_in(asked.text, desk.settings.region)
    if not marks:
        raise StandingError(f"nobody could be recognised by this: {refused[0] if refused else 'the text is empty'}")
    with desk.database.write() as conn:
        changed = contacting.take_in(conn, asked.kind, marks, now(), desk.settings)
    return _told(desk, refused, changed)


@router.delete("/standings/{standing_id}")
def drop_standing(desk: Desk, standing_id: int) -> StandingsTold:
    """Forget an entry; businesses that only it held back come back."""
    with desk.database.write() as conn:
        if not standings.drop_standing(conn, standing_id):
            raise NotFound(f"there is no entry {standing_id}")
        changed = len(judge_standings(conn, desk.settings))
    return _told(desk, [], changed)
