"""Clients & do-not-contact: clients, people in conversation, people who refused."""

from fastapi import APIRouter

from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.business.store import relationships
from openacorn.clock import utc_now
from openacorn.core.match.relationship import RelationshipError, identifiers_in
from openacorn.errors import NotFound
from openacorn.gather.schemas.coverage import RelationshipsRequest, RelationshipsResponse
from openacorn.match.recluster import refresh_relationships
from openacorn.outreach import results

router = APIRouter(route_class=DeskRoute, tags=["relationships"])
SHOWN = 500


def _response(state: AppDep, refused: list[str], changed: int) -> RelationshipsResponse:
    with state.database.read() as conn:
        entries, counts = relationships.list_relationships(conn, SHOWN)
    return RelationshipsResponse(
        entries=entries,
        counts=counts,
        refused=refused,
        businesses=changed,
    )


@router.get("/relationships")
def list_relationships(state: AppDep) -> RelationshipsResponse:
    """The newest entries, and how many there are of each kind."""
    return _response(state, [], 0)


@router.post("/relationships", status_code=201)
def add_relationships(state: AppDep, asked: RelationshipsRequest) -> RelationshipsResponse:
    """Take in lines or a file of domains, e-mails, phones or names with a place; businesses that answer to one are held back."""
    marks, refused = identifiers_in(asked.text, state.settings.region)
    if not marks:
        raise RelationshipError(f"nobody could be recognised by this: {refused[0] if refused else 'the text is empty'}")
    with state.database.write() as conn:
        changed = results.import_relationships(conn, asked.kind, marks, utc_now(), state.settings)
    return _response(state, refused, changed)


@router.delete("/relationships/{relationship_id}")
def drop_relationship(state: AppDep, relationship_id: int) -> RelationshipsResponse:
    """Forget an entry; businesses that only it held back come back."""
    with state.database.write() as conn:
        if not relationships.delete_relationship(conn, relationship_id):
            raise NotFound(f"there is no entry {relationship_id}")
        changed = len(refresh_relationships(conn, state.settings))
    return _response(state, [], changed)
