"""Links to a view of the table: made here, opened by anybody who has one, with nothing of people in it."""

from datetime import timedelta

from fastapi import APIRouter

from openacorn.acting import acting, acting_account
from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import DeskRoute
from openacorn.business.columns import BY_ID, PAGE_COLUMNS, STORED_IN_ROW
from openacorn.business.store import businesses, membership
from openacorn.clock import now, utc_now
from openacorn.core.audit.check import check_ids
from openacorn.core.desk.filter_words import sentence
from openacorn.core.desk.filters import FilterError, parse_filter
from openacorn.desk.hiding import PERSONAL_COLUMNS, check_lists, hide_cells
from openacorn.desk.schemas.businesses import BusinessColumnResponse
from openacorn.desk.schemas.view_links import (
    SharedView,
    SharedViewRequest,
    ViewLinkRequest,
    ViewLinkResponse,
    ViewLinksResponse,
)
from openacorn.desk.store import view_links
from openacorn.desk.store.view_links import ViewLink
from openacorn.desk.table import cells, names_for
from openacorn.errors import NotFound
from openacorn.team.passwords import fingerprint, new_secret

router = APIRouter(route_class=DeskRoute, tags=["view links"])
SHOWN = 200
COLUMNS = ("name", "trade", "town", "website", "rating", "reviews", "offer", "score", "gaps")
INSIDE = frozenset(
    {"id", "strip", "shortlists", "pictured", "rejected", "relationship", "stage", "tags", "has", *PERSONAL_COLUMNS}
)
"""Columns for the agency alone: people, and what it does and thinks about a business."""


def _links(state: AppState, address: str = "") -> ViewLinksResponse:
    with state.database.read() as conn:
        found = view_links.list_view_links(conn, utc_now())
    return ViewLinksResponse(links=[ViewLinkResponse.model_validate(link) for link in found], address=address)


@router.get("/view-links")
def list_links(state: AppDep) -> ViewLinksResponse:
    """Links that are good still."""
    return _links(state)


@router.post("/view-links", status_code=201)
def make_link(state: AppDep, asked: ViewLinkRequest) -> ViewLinksResponse:
    """Make a link to a view of the table. Anybody who has it sees these columns, without people, until it ends."""
    chosen = parse_filter(asked.filter, check_ids())
    check_lists(state.database, chosen)
    if chosen.pages:
        raise FilterError("pages: what pages say may name people; take it out of the filter")
    columns = tuple(dict.fromkeys(asked.columns)) or COLUMNS
    strange = [name for name in columns if name not in PAGE_COLUMNS or name in INSIDE or not BY_ID[name].heading]
    if strange:
        raise FilterError(f"{strange[0]}: this column is not for others; take it out")
    with state.snapshot.current() as grid:
        grid.order(grid.select(chosen, now().timestamp()), asked.sort, 0, 1)  # an order that is none is said now
    key, until = new_secret(), (now() + timedelta(days=asked.days)).isoformat(timespec="seconds")
    link = ViewLink(
        0, asked.name.strip(), asked.filter, columns, asked.sort, acting(), acting_account(), utc_now(), until
    )
    with state.database.write() as conn:
        view_links.insert_view_link(conn, fingerprint(key), link)
    return _links(state, state.application_url(f"/shared#{key}"))


@router.delete("/view-links/{number}")
def end_link(state: AppDep, number: int) -> ViewLinksResponse:
    """End a link now."""
    with state.database.write() as conn:
        view_links.delete_view_link(conn, number)
    return _links(state)


@router.post("/shared-view")
def open_link(state: AppDep, asked: SharedViewRequest) -> SharedView:
    """A page of the view behind a link, for anybody with its key."""
    with state.database.read() as conn:
        link = view_links.find_view_link(conn, fingerprint(asked.key), utc_now())
    if link is None:
        raise NotFound("this link is good no more, or was not copied whole")
    chosen = parse_filter(link.filter, check_ids())
    with state.snapshot.current() as grid:
        mask = grid.select(chosen, now().timestamp())
        ids, total = grid.order(mask, link.sort, asked.offset, SHOWN), int(mask.sum())
    with state.database.read() as conn:
        rows, groups = businesses.table_rows(conn, ids, STORED_IN_ROW), membership.groups_of(conn, ids)
        names = names_for(conn)
        words, offers, trades = sentence(chosen, names), names["offer"], names["trade"]
        listed = [hide_cells(link.columns, cells(row, groups.get(row["id"], {}), link.columns)) for row in rows]
        for row in listed:
            for place, column in enumerate(link.columns):
                if column in {"offer", "trade"} and row[place]:
                    row[place] = (offers if column == "offer" else trades)(str(row[place]))
    if asked.offset == 0:
        with state.database.write() as conn:
            view_links.note_opened(conn, link.id, utc_now())
    return SharedView(
        name=link.name, agency=state.settings.agency, by=link.by, expires_at=link.expires_at, sentence=words,
        columns=[BusinessColumnResponse.model_validate(BY_ID[name]) for name in link.columns], rows=listed, total=total,
        offset=asked.offset,
    )  # fmt: skip
