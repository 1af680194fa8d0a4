"""Recipes of directories: found in a page, tried, corrected, kept."""

import asyncio
import sqlite3
from collections.abc import Sequence
from dataclasses import asdict, replace
from urllib.parse import quote, quote_plus

from fastapi import APIRouter

from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import DeskRoute
from openacorn.clock import utc_now
from openacorn.core.gather.planning import Query
from openacorn.core.gather.recipe import Recipe, RecipeError, plan_of, read_page
from openacorn.core.gather.recipe_finder import NoList, Proposal, proposals
from openacorn.db import secrets
from openacorn.gather.schemas.coverage import OtherList, PageRequest, PageResponse, RecipeRequest, RecipeResponse
from openacorn.gather.sources._source import Endpoint, Request
from openacorn.gather.sources.directory import ask
from openacorn.gather.store import recipes as store
from openacorn.net.ask import Asker
from openacorn.net.client import Client
from openacorn.net.pace import Pace

router = APIRouter(route_class=DeskRoute, tags=["recipes"])
ROWS_SHOWN = 30
NAMES_SHOWN = 3


def _response(plan_id: int, plan: Recipe, *, secret_kept: bool = False) -> RecipeResponse:
    return RecipeResponse.model_validate({"id": plan_id, **asdict(plan), "secret_kept": secret_kept})


def _checked(asked: RecipeRequest, *, found: bool = True) -> Recipe:
    return plan_of(asked.model_dump(exclude={"secret"}), found=found)


def _secret(state: AppState, plan_id: int) -> str:
    with state.database.read() as conn:
        return secrets.reveal(conn, state.folder, _name(plan_id))


async def _page(state: AppState, asked: PageRequest) -> str:
    """The page's source: by its address, or by the plan's own form and log-in where it has them."""
    if not asked.address.startswith(("http://", "https://")):
        raise RecipeError("address: give the whole address of a page of results, beginning with http")
    request = Request(asked.address, {}, robots=True, pace_s=0.2)
    if asked.plan is not None and (asked.plan.form or asked.plan.log_in or asked.plan.header):
        plan = _checked(asked.plan, found=False)
        kept = await asyncio.to_thread(_secret, state, asked.plan_id) if asked.plan_id else ""
        secret = kept if asked.plan.secret is None else asked.plan.secret
        query = Query("directory", "", asked.term, place=asked.place)
        request = replace(ask(query, Endpoint(plan.address, secret, 0.2, plan)), pace_s=0.2)
    async with Client(state.settings, allow_private=False) as client:
        reply = await Asker(client, Pace()).ask(request)
    return reply.body.decode("utf-8", "replace")


def _name(plan_id: int) -> str:
    return f"directory:{plan_id}"


def _keep_secret(conn: sqlite3.Connection, state: AppState, plan_id: int, secret: str | None) -> bool:
    """Keep what was entered; is there one now?"""
    if secret is not None:
        secrets.keep(conn, state.folder, _name(plan_id), secret, utc_now())
    return _name(plan_id) in secrets.kept(conn)


def slotted(address: str, term: str, place: str) -> str:
    """The address with slots where the searched words stand in it, as typed or as a form sends them."""
    for slot, text in (("{term}", term), ("{place}", place)):
        for form in (quote_plus(text), quote(text), text) if text else ():
            if form in address:
                address = address.replace(form, slot, 1)
                break
    return address


@router.get("/recipes")
def list_plans(state: AppDep) -> list[RecipeResponse]:
    """All recipes."""
    with state.database.read() as conn:
        sealed = secrets.kept(conn)
        return [
            _response(kept.id, kept.plan, secret_kept=_name(kept.id) in sealed) for kept in store.list_recipes(conn)
        ]


@router.post("/recipes/page")
async def try_page(state: AppDep, asked: PageRequest) -> PageResponse:
    """Read a page of results: by the plan given, or by one that is found in the page. A plan without an item says only how
    the page is reached."""
    return await asyncio.to_thread(_read, asked, await _page(state, asked))


def _read(asked: PageRequest, source: str) -> PageResponse:
    if asked.plan is not None and asked.plan.item:
        plan = _checked(asked.plan)
        return _page_response(asked, source, plan, None, ())
    title = asked.title.strip() or "New directory"
    address = slotted(asked.address, asked.term.strip(), asked.place.strip())
    found = proposals(source, asked.address, title, address)
    if not found:
        raise NoList("no repeating list of names is seen on this page")
    reached = _checked(asked.plan, found=False) if asked.plan is not None else None
    lists = [replace(proposal, recipe=_reached(proposal.recipe, reached, title)) for proposal in found]
    return _page_response(asked, source, lists[0].recipe, lists[0].sure, lists[1:])


def _reached(found: Recipe, access: Recipe | None, title: str) -> Recipe:
    """A recipe found in a page, reached as the user said."""
    if access is None:
        return found
    return replace(access, title=title, item=found.item, fields=found.fields, next=found.next)


def _page_response(
    asked: PageRequest, source: str, plan: Recipe, sure: float | None, others: Sequence[Proposal]
) -> PageResponse:
    page = read_page(plan, source, asked.address)
    rows = [dict(row) for row in page.rows[:ROWS_SHOWN]]
    further = []
    for other in others:
        names = [row.get("name", "") for row in read_page(other.recipe, source, asked.address).rows]
        shown = [name for name in names if name][:NAMES_SHOWN]
        further.append(OtherList(plan=_response(0, other.recipe), sure=other.sure, total=len(names), names=shown))
    return PageResponse(
        plan=_response(0, plan), sure=sure, others=further, rows=rows, next=page.next, total=len(page.rows)
    )


@router.post("/recipes", status_code=201)
def add_plan(state: AppDep, asked: RecipeRequest) -> RecipeResponse:
    """Keep a recipe; sweeps can then name it as a source."""
    plan = replace(_checked(asked), title=asked.title.strip())
    with state.database.write() as conn:
        made = store.insert_recipe(conn, plan, utc_now())
        return _response(made, plan, secret_kept=_keep_secret(conn, state, made, asked.secret))


@router.put("/recipes/{plan_id}")
def change_plan(state: AppDep, plan_id: int, asked: RecipeRequest) -> RecipeResponse:
    """Change a recipe; what was gathered by the old one stays."""
    plan = replace(_checked(asked), title=asked.title.strip())
    with state.database.write() as conn:
        store.update_recipe(conn, plan_id, plan)
        return _response(plan_id, plan, secret_kept=_keep_secret(conn, state, plan_id, asked.secret))
