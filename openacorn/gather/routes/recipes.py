"""Recipes of directories: found in a page, tried, corrected, kept."""

import asyncio
import sqlite3
from dataclasses import asdict, replace
from urllib.parse import quote, quote_plus

from fastapi import APIRouter
from fastapi.responses import HTMLResponse
from selectolax.lexbor import LexborHTMLParser

from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import DeskRoute
from openacorn.clock import utc_now
from openacorn.core.gather.api_recipe import FIELDS, PAGINGS
from openacorn.core.gather.file_columns import HEADINGS
from openacorn.core.gather.pointing import PointedPage, inert
from openacorn.core.gather.recipe import CLEANERS, Recipe, RecipeError, plan_of
from openacorn.core.gather.recipe_finder import Proposal, find_next, proposals
from openacorn.core.gather.recipe_reader import PageRead, read_details, read_page, usual_fields
from openacorn.core.gather.search_results import are_results
from openacorn.db import secrets
from openacorn.errors import NotFound
from openacorn.gather.pages import FetchedPage, fetch_page
from openacorn.gather.schemas.recipes import (
    Clicked,
    OtherList,
    PageRequest,
    PageResponse,
    RecipeChoices,
    RecipeRequest,
    RecipeResponse,
    TakenResponse,
)
from openacorn.gather.store import recipes as store

router = APIRouter(route_class=DeskRoute, tags=["recipes"])
ROWS_SHOWN = 30
NAMES_SHOWN = 3
INERT = {
    "Content-Security-Policy": "default-src 'none'; style-src 'unsafe-inline'; frame-ancestors 'self'; sandbox allow-same-origin"
}
"""What a page of somebody else's may do in our frame: be looked at."""


def recipe_response(plan_id: int, plan: Recipe, *, secret_kept: bool = False) -> RecipeResponse:
    """A recipe as the interface shows it; id 0: one that is not kept."""
    return RecipeResponse.model_validate({"id": plan_id, **asdict(plan), "secret_kept": secret_kept})


def _checked(asked: RecipeRequest, *, found: bool = True) -> Recipe:
    return plan_of(asked.model_dump(exclude={"secret"}), found=found)


def _secret(state: AppState, plan_id: int) -> str:
    with state.database.read() as conn:
        return secrets.reveal(conn, state.folder, _name(plan_id))


def _name(plan_id: int) -> str:
    return f"directory:{plan_id}"


def _keep_secret(conn: sqlite3.Connection, state: AppState, plan_id: int, secret: str | None) -> bool:
    """Keep what was entered; is there one now?"""
    if secret is not None:
        secrets.keep(conn, state.folder, _name(plan_id), secret, utc_now())
    return _name(plan_id) in secrets.kept(conn)


def slotted(address: str, term: str, place: str) -> str:
    """The address with slots in place of the searched words, as typed or as a form sends them."""
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
            recipe_response(kept.id, kept.plan, secret_kept=_name(kept.id) in sealed)
            for kept in store.list_recipes(conn)
        ]


@router.get("/recipes/choices")
def list_choices() -> RecipeChoices:
    """What a recipe may say."""
    directory = [name for name in HEADINGS if name != "source"]
    return RecipeChoices(fields=directory, cleaners=list(CLEANERS), api_fields=list(FIELDS), pagings=list(PAGINGS))


@router.post("/recipes/page")
async def try_page(state: AppDep, asked: PageRequest) -> PageResponse:
    """Read a page of results: by the plan given, changed by what was clicked, or by one that is found in the page. A plan
    without an item says only how the page is reached."""
    page, name = state.pages.get(asked.page), asked.page
    if page is None:
        kept = await asyncio.to_thread(_secret, state, asked.plan_id) if asked.plan_id else ""
        secret = kept if asked.plan is None or asked.plan.secret is None else asked.plan.secret
        plan = _checked(asked.plan, found=False) if asked.plan is not None else None
        words = (asked.term, asked.place)
        page = await fetch_page(asked.address, state.settings, plan, secret, words, own=asked.own)
        name = state.pages.keep(page)
    return await asyncio.to_thread(_read, asked, page, name)


@router.get("/recipes/pages/{name}")
def show_page(state: AppDep, name: str) -> HTMLResponse:
    """A page that was fetched, to be shown in a frame: nothing in it runs, loads or leads anywhere."""
    page = state.pages.get(name)
    if page is None:
        raise NotFound("this page is no longer kept; read it again")
    return HTMLResponse(inert(page.source), headers=INERT)


def _read(asked: PageRequest, page: FetchedPage, name: str) -> PageResponse:
    if asked.own:
        return _own_response(asked, page, name)
    if asked.clicked is not None:
        plan = _pointed(asked, page, asked.clicked)
    elif asked.plan is not None and (asked.plan.item or asked.plan.structured):
        plan = _checked(_as_asked(asked.plan, asked))
    else:
        return _found_response(asked, page, name)
    return _page_response(plan, page, name)


def _as_asked(plan: RecipeRequest, asked: PageRequest) -> RecipeRequest:
    """A recipe whose address was typed as it is: with slots in place of the searched words."""
    if "{" in plan.address:
        return plan
    return plan.model_copy(update={"address": slotted(plan.address, asked.term, asked.place)})


def _pointed(asked: PageRequest, page: FetchedPage, clicked: Clicked) -> Recipe:
    if asked.plan is None:
        raise RecipeError("plan: what is clicked changes a recipe; send it along")
    plan, pointed = _checked(asked.plan, found=False), PointedPage(page.source, page.url)
    if clicked.kind == "item":
        return pointed.with_items(plan, clicked.elements)
    if clicked.kind == "next":
        return pointed.with_next(plan, clicked.elements[0])
    return pointed.with_field(plan, clicked.elements[0], clicked.field)


def _found_response(asked: PageRequest, page: FetchedPage, name: str) -> PageResponse:
    title = asked.title.strip() or "New directory"
    address = slotted(asked.address, asked.term.strip(), asked.place.strip())
    reached = _checked(asked.plan, found=False) if asked.plan is not None else None
    lists = [
        replace(proposal, recipe=_reached(proposal.recipe, reached, title))
        for proposal in proposals(page.source, page.url, title, address)
    ]
    if not lists:
        empty = _reached(
            Recipe(title, address, "", (), find_next(LexborHTMLParser(page.source), page.url)), reached, title
        )
        why = "no list of businesses is seen on this page: click one of them on the page below"
        return _page_response(empty, page, name, why=why)
    found = _page_response(lists[0].recipe, page, name, sure=lists[0].sure)
    return found.model_copy(update={"others": [_other(each, page) for each in lists[1:]]})


def _other(proposal: Proposal, page: FetchedPage) -> OtherList:
    names = [row.get("name", "") for row in read_page(proposal.recipe, page.source, page.url).rows]
    shown = [name for name in names if name][:NAMES_SHOWN]
    return OtherList(plan=recipe_response(0, proposal.recipe), sure=proposal.sure, total=len(names), names=shown)


def _reached(found: Recipe, access: Recipe | None, title: str) -> Recipe:
    """A recipe found in a page, reached as the user said."""
    if access is None:
        return found
    return replace(
        access, title=title, address=access.address if access.form or "{" in access.address else found.address,
        item=found.item, fields=found.fields, next=found.next, structured=found.structured,
    )  # fmt: skip


def _page_response(
    plan: Recipe, page: FetchedPage, name: str, *, sure: float | None = None, why: str = ""
) -> PageResponse:
    readable = bool(plan.item or plan.structured)
    read = read_page(plan, page.source, page.url) if readable else PageRead((), (), "")
    results = plan.results or (sure is not None and are_results(read.rows, page.url))
    plan = replace(plan, usual=usual_fields(read.rows), results=results)
    taken = PointedPage(page.source, page.url).taken_by(plan)
    return PageResponse(
        plan=recipe_response(0, plan), sure=sure, rows=[dict(row) for row in read.rows[:ROWS_SHOWN]], next=read.next,
        total=len(read.rows), page=name, taken=TakenResponse.model_validate(asdict(taken)), why=why,
        own_page=next(filter(None, read.own_pages), ""),
    )  # fmt: skip


def _own_response(asked: PageRequest, page: FetchedPage, name: str) -> PageResponse:
    """One business's own page read for the details: by what was clicked, by the plan, or by what is found there."""
    if asked.plan is None:
        raise RecipeError("plan: what is read on an own page is part of a recipe; send it along")
    plan, pointed = _checked(asked.plan), PointedPage(page.source, page.url)
    if asked.clicked is not None:
        plan = pointed.with_detail(plan, asked.clicked.elements[0], asked.clicked.field)
    elif not plan.details:
        plan = pointed.with_details(plan)
    row = read_details(plan, page.source, page.url)
    return PageResponse(
        plan=recipe_response(0, plan), rows=[row], next="", total=1, page=name, own_page=asked.address,
        taken=TakenResponse.model_validate(asdict(pointed.details_taken_by(plan))),
    )  # fmt: skip


@router.post("/recipes", status_code=201)
def add_plan(state: AppDep, asked: RecipeRequest) -> RecipeResponse:
    """Keep a recipe; sweeps can then name it as a source."""
    plan = replace(_checked(asked), title=asked.title.strip())
    with state.database.write() as conn:
        made = store.insert_recipe(conn, plan, utc_now())
        return recipe_response(made, plan, secret_kept=_keep_secret(conn, state, made, asked.secret))


@router.put("/recipes/{plan_id}")
def change_plan(state: AppDep, plan_id: int, asked: RecipeRequest) -> RecipeResponse:
    """Change a recipe; what was gathered by the old one stays."""
    plan = replace(_checked(asked), title=asked.title.strip())
    with state.database.write() as conn:
        store.update_recipe(conn, plan_id, plan)
        return recipe_response(plan_id, plan, secret_kept=_keep_secret(conn, state, plan_id, asked.secret))


@router.delete("/recipes/{plan_id}", status_code=204)
def drop_plan(state: AppDep, plan_id: int) -> None:
    """Forget a recipe; what was gathered by it stays."""
    with state.database.write() as conn:
        store.delete_recipe(conn, "directory", plan_id)
        _keep_secret(conn, state, plan_id, "")
