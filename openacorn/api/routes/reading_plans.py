"""Reading plans of directories: found in a page, tried, corrected, kept."""

from dataclasses import asdict, replace
from urllib.parse import quote, quote_plus

from fastapi import APIRouter

from openacorn.api.deps import Desk, Office
from openacorn.api.models.gathering import PageAsked, PageTold, ReadingPlanAsked, ReadingPlanTold
from openacorn.core.reading import PlanError, ReadingPlan, plan_of, read_page
from openacorn.core.reading_finder import propose
from openacorn.net.ask import Asker
from openacorn.net.client import Client
from openacorn.net.pace import Pace
from openacorn.net.probes.site import now
from openacorn.sources._source import Request
from openacorn.store import reading_plans as store

router = APIRouter(tags=["reading plans"])
ROWS_SHOWN = 30


def _told(plan_id: int, plan: ReadingPlan) -> ReadingPlanTold:
    return ReadingPlanTold.model_validate({"id": plan_id, **asdict(plan)})


def _checked(asked: ReadingPlanAsked) -> ReadingPlan:
    return plan_of(asked.model_dump())


async def _page(desk: Office, address: str) -> str:
    if not address.startswith(("http://", "https://")):
        raise PlanError("address: give the whole address of a page of results, beginning with http")
    async with Client(desk.settings, allow_private=False) as client:
        body = await Asker(client, Pace()).ask(Request(address, {}, robots=True, pace_s=0.2))
    return body.decode("utf-8", "replace")


def slotted(address: str, term: str, place: str) -> str:
    """The address with slots where the searched words stand in it, as typed or as a form sends them."""
    for slot, text in (("{term}", term), ("{place}", place)):
        for form in (quote_plus(text), quote(text), text) if text else ():
            if form in address:
                address = address.replace(form, slot, 1)
                break
    return address


@router.get("/reading-plans")
def list_plans(desk: Desk) -> list[ReadingPlanTold]:
    """All reading plans."""
    with desk.database.read() as conn:
        return [_told(kept.id, kept.plan) for kept in store.list_plans(conn)]


@router.post("/reading-plans/page")
async def try_page(desk: Desk, asked: PageAsked) -> PageTold:
    """Read a page of results: by the plan given, or by one that is found in the page."""
    source = await _page(desk, asked.address)
    if asked.plan is not None:
        plan = _checked(asked.plan)
    else:
        address = slotted(asked.address, asked.term.strip(), asked.place.strip())
        plan = propose(source, asked.address, asked.title.strip() or "New directory", address)
    page = read_page(plan, source, asked.address)
    rows = [dict(row) for row in page.rows[:ROWS_SHOWN]]
    return PageTold(plan=_told(0, plan), rows=rows, next=page.next, total=len(page.rows))


@router.post("/reading-plans", status_code=201)
def add_plan(desk: Desk, asked: ReadingPlanAsked) -> ReadingPlanTold:
    """Keep a reading plan; sweeps can then name it as a source."""
    plan = replace(_checked(asked), title=asked.title.strip())
    with desk.database.write() as conn:
        return _told(store.add_plan(conn, plan, now()), plan)


@router.put("/reading-plans/{plan_id}")
def change_plan(desk: Desk, plan_id: int, asked: ReadingPlanAsked) -> ReadingPlanTold:
    """Change a reading plan; what was gathered by the old one stays."""
    plan = replace(_checked(asked), title=asked.title.strip())
    with desk.database.write() as conn:
        store.change_plan(conn, plan_id, plan)
    return _told(plan_id, plan)
