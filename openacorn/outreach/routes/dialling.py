"""Call lists for a dialler: their columns, the file of a list, and the results that come back."""

from functools import partial

from fastapi import APIRouter
from fastapi.responses import Response

from openacorn.api.deps import AppDep
from openacorn.api.schemas import Id
from openacorn.api.threads import DeskRoute
from openacorn.business.store import outcomes, pipeline, services, shortlists
from openacorn.clock import midnight, today
from openacorn.core.outreach.dialler import COLUMNS
from openacorn.errors import InvalidInput
from openacorn.outreach import dialling as jobs
from openacorn.outreach import result_files
from openacorn.outreach.pitch import Pitcher
from openacorn.outreach.result_files import ReadResults
from openacorn.outreach.schemas.dialling import CallColumn, CallColumnsRequest, CallColumnsResponse, CallResultsRequest
from openacorn.outreach.store import call_lists
from openacorn.score.scorer import rescore

router = APIRouter(route_class=DeskRoute, tags=["dialler"])


class ColumnError(InvalidInput):
    """A column that call lists do not have."""

    where = "chosen"
    remedy = "choose among the columns that there are"


@router.get("/call-list-columns")
def get_columns(state: AppDep) -> CallColumnsResponse:
    """Columns that a call list can hold, and those chosen last."""
    with state.database.read() as conn:
        chosen = call_lists.chosen_columns(conn)
    return CallColumnsResponse(
        columns=[CallColumn(id=name, title=title) for name, title in COLUMNS.items()], chosen=chosen
    )


@router.put("/call-list-columns")
def choose_columns(state: AppDep, asked: CallColumnsRequest) -> CallColumnsResponse:
    """Remember the columns of call lists."""
    if strange := [name for name in asked.chosen if name not in COLUMNS]:
        raise ColumnError(f"call lists have no column {strange[0]!r}")
    with state.database.write() as conn:
        call_lists.choose_columns(conn, list(dict.fromkeys(asked.chosen)))
    return get_columns(state)


@router.get("/shortlists/{shortlist_id}/call-list.csv")
def call_list(state: AppDep, shortlist_id: Id) -> Response:
    """Businesses to call now from a list, as CSV for a dialler: mobiles first, nobody without a number, nobody who refused."""
    with state.database.read() as conn:
        shortlists.must_exist(conn, shortlist_id)
        found = pipeline.list_calls(conn, shortlist_id, today(), midnight())
        pitcher = Pitcher(conn, region=state.settings.region)
        body = jobs.call_list(conn, pitcher, state.settings, found, call_lists.chosen_columns(conn))
    headers = {"Content-Disposition": 'attachment; filename="call-list.csv"'}
    return Response(body, media_type="text/csv; charset=utf-8", headers=headers)


@router.post("/call-results")
def read_results(state: AppDep, asked: CallResultsRequest) -> ReadResults:
    """Show what another tool's file says, or note it: each result as if it had been chosen on a call sheet; each can be undone."""
    table = result_files.table_of(asked.name, asked.content)
    fields = {str(name): heading for name, heading in asked.fields.items()}
    read = partial(
        result_files.read_results,
        settings=state.settings,
        table=table,
        fields=fields,
        meanings=asked.meanings,
        channel=asked.channel,
        by=asked.by.strip(),
    )
    if not asked.keep:
        with state.database.read() as conn:
            return read(conn, keep=False)
    with state.database.write() as conn:
        found = read(conn, keep=True)
        offered, follow = services.list_services(conn), outcomes.use_learnt_model(conn)
    if follow and found.noted:
        rescore(state.database, state.snapshot, offered)
    return found
