"""Reading plans of directories: found in a page, tried, corrected, kept."""

import asyncio
import sqlite3
from dataclasses import asdict, replace
from urllib.parse import quote, quote_plus

from fastapi import APIRouter

from openacorn.api.deps import Desk, Office
from openacorn.api.models.gathering import PageAsked, PageTold, ReadingPlanAsked, ReadingPlanTold
from openacorn.api.threads import DeskRoute
from openacorn.core.planning import Query
from openacorn.core.reading import PlanError, ReadingPlan, plan_of, read_page
from openacorn.core.reading_finder import propose
from openacorn.net.ask import Asker
from openacorn.net.client import Client
from openacorn.net.pace import Pace
from openacorn.net.probes.site import now
from openacorn.sources._source import Endpoint, Request
from openacorn.sources.directory import ask
from openacorn.store import reading_plans as store
from openacorn.store import secrets

router = APIRouter(route_class=DeskRoute, tags=["reading plans"])
ROWS_SHOWN = 30


def _told(plan_id: int, plan: ReadingPlan, *, secret_kept: bool = False) -> ReadingPlanTold:
    return ReadingPlanTold.model_validate({"id": plan_id, **asdict(plan), "secret_kept": secret_kept})


def _checked(asked: ReadingPlanAsked, *, found: bool = True) -> ReadingPlan:
    return plan_of(asked.model_dump(exclude={"secret"}), found=found)


def _secret(desk: Office, plan_id: int) -> str:
    with desk.database.read() as conn:
        return secrets.reveal(conn, desk.folder, _name(plan_id))


async def _page(desk: Office, asked: PageAsked) -> str:
    """The page's source: by its address, or by the plan's own form and log-in where it has them."""
    if not asked.address.startswith(("http://", "https://")):
        raise PlanError("address: give the whole address of a page of results, beginning with http")
    request = Request(asked.address, {}, robots=True, pace_s=0.2)
    if asked.plan is not None and (asked.plan.form or asked.plan.log_in or asked.plan.header):
        plan = _checked(asked.plan, found=False)
        kept = await asyncio.to_thread(_secret, desk, asked.plan_id) if asked.plan_id else ""
        secret = kept if asked.plan.secret is None else asked.plan.secret
        query = Query("directory", "", asked.term, place=asked.place)
        request = replace(ask(query, Endpoint(plan.address, secret, 0.2, plan)), pace_s=0.2)
    async with Client(desk.settings, allow_private=False) as client:
        body = await Asker(client, Pace()).ask(request)
    return body.decode("utf-8", "replace")


def _name(plan_id: int) -> str:
    return f"directory:{plan_id}"


def _keep_secret(conn: sqlite3.Connection, desk: Office, plan_id: int, secret: str | None) -> bool:
    """Keep what was entered; is there one now?"""
    if secret is not None:
        secrets.keep(conn, desk.folder, _name(plan_id), secret, now())
    return _name(plan_id) in secrets.kept(conn)


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
        sealed = secrets.kept(conn)
        return [_told(kept.id, kept.plan, secret_kept=_name(kept.id) in sealed) for kept in store.list_plans(conn)]


@router.post("/reading-plans/page")
async def try_page(desk: Desk, asked: PageAsked) -> PageTold:
    """Read a page of results: by the plan given, or by one that is found in the page. A plan without an item says only how
    the page is reached."""
    return await asyncio.to_thread(_read, asked, await _page(desk, asked))


def _read(asked: PageAsked, source: str) -> PageTold:
    if asked.plan is not None and asked.plan.item:
        plan = _checked(asked.plan)
    else:
        title = asked.title.strip() or "New directory"
        plan = propose(source, asked.address, title, slotted(asked.address, asked.term.strip(), asked.place.strip()))
        if asked.plan is not None:
            reached = _checked(asked.plan, found=False)
            plan = replace(reached, title=title, item=plan.item, fields=plan.fields, next=plan.next)
    page = read_page(plan, source, asked.address)
    rows = [dict(row) for row in page.rows[:ROWS_SHOWN]]
    return PageTold(plan=_told(0, plan), rows=rows, next=page.next, total=len(page.rows))


@router.post("/reading-plans", status_code=201)
def add_plan(desk: Desk, asked: ReadingPlanAsked) -> ReadingPlanTold:
    """Keep a reading plan; sweeps can then name it as a source."""
    plan = replace(_checked(asked), title=asked.title.strip())
    with desk.database.write() as conn:
        made = store.add_plan(conn, plan, now())
        return _told(made, plan, secret_kept=_keep_secret(conn, desk, made, asked.secret))


@router.put("/reading-plans/{plan_id}")
def change_plan(desk: Desk, plan_id: int, asked: ReadingPlanAsked) -> ReadingPlanTold:
    """Change a reading plan; what was gathered by the old one stays."""
    plan = replace(_checked(asked), title=asked.title.strip())
    with desk.database.write() as conn:
        store.change_plan(conn, plan_id, plan)
        return _told(plan_id, plan, secret_kept=_keep_secret(conn, desk, plan_id, asked.secret))
