"""Recipes of JSON APIs: found in an answer, tried, corrected, kept."""

import asyncio
from dataclasses import asdict, replace

from fastapi import APIRouter

from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import DeskRoute
from openacorn.clock import utc_now
from openacorn.core.gather.api_check import api_of
from openacorn.core.gather.api_reader import PlacesRead
from openacorn.core.gather.api_recipe import ApiField, ApiRecipe, Asked
from openacorn.core.gather.recipe import RecipeError
from openacorn.db import secrets
from openacorn.gather.api_trial import NO_HOME, find_api, read_api, second_page, tile_around
from openacorn.gather.reach import API
from openacorn.gather.schemas.apis import ApiRequest, ApiResponse, ApiSampleRequest, ApiSampleResponse
from openacorn.gather.store import recipes as store
from openacorn.net.client import Client

router = APIRouter(route_class=DeskRoute, tags=["apis"])
ROWS_SHOWN = 30


def api_response(recipe_id: int, recipe: ApiRecipe, *, secret_kept: bool = False) -> ApiResponse:
    """A recipe as the interface shows it; id 0: one that is not kept."""
    return ApiResponse.model_validate({"id": recipe_id, "by": recipe.by, **asdict(recipe), "secret_kept": secret_kept})


def _recipe(asked: ApiRequest) -> ApiRecipe:
    return api_of({**asked.model_dump(exclude={"secret"}), "title": asked.title.strip()})


def _keep(state: AppState, recipe: ApiRecipe, secret: str | None, recipe_id: int | None) -> ApiResponse:
    with state.database.write() as conn:
        if recipe_id is None:
            recipe_id = store.insert_recipe(conn, recipe, utc_now())
        else:
            store.update_recipe(conn, recipe_id, recipe)
        name = f"{API}{recipe_id}"
        if secret is not None:
            secrets.keep(conn, state.folder, name, secret, utc_now())
        return api_response(recipe_id, recipe, secret_kept=name in secrets.kept(conn))


@router.get("/apis")
def list_apis(state: AppDep) -> list[ApiResponse]:
    """All recipes of APIs."""
    with state.database.read() as conn:
        sealed = secrets.kept(conn)
        return [
            api_response(kept.id, kept.recipe, secret_kept=f"{API}{kept.id}" in sealed)
            for kept in store.list_apis(conn)
        ]


@router.post("/apis", status_code=201)
def add_api(state: AppDep, asked: ApiRequest) -> ApiResponse:
    """Keep a recipe; sweeps can then name it as a source."""
    return _keep(state, _recipe(asked), asked.secret, None)


@router.put("/apis/{recipe_id}")
def change_api(state: AppDep, recipe_id: int, asked: ApiRequest) -> ApiResponse:
    """Change a recipe; what was gathered by the old one stays."""
    return _keep(state, _recipe(asked), asked.secret, recipe_id)


@router.delete("/apis/{recipe_id}", status_code=204)
def drop_api(state: AppDep, recipe_id: int) -> None:
    """Forget a recipe; what was gathered by it stays."""
    with state.database.write() as conn:
        store.delete_recipe(conn, "api", recipe_id)
        secrets.keep(conn, state.folder, f"{API}{recipe_id}", "", utc_now())


def _key(state: AppState, asked: ApiSampleRequest) -> str:
    if asked.recipe is not None and asked.recipe.secret is not None:
        return asked.recipe.secret
    if not asked.recipe_id:
        return ""
    with state.database.read() as conn:
        return secrets.reveal(conn, state.folder, f"{API}{asked.recipe_id}")


def _access(asked: ApiSampleRequest) -> ApiRecipe:
    """How the API is reached, before anything is known of its answers."""
    given = asked.recipe
    unread = ApiRecipe("New API", asked.address, "@", (ApiField("name", "name"),))
    if given is None:
        return unread
    names = ("key_name", "key_in", "key_prefix", "pace_s", "cost_per_request", "cost_per_row", "cap")
    return replace(unread, title=given.title, **{name: getattr(given, name) for name in names})


@router.post("/apis/sample")
async def try_api(state: AppDep, asked: ApiSampleRequest) -> ApiSampleResponse:
    """Read one answer: by the recipe given, or by one that is found in the answer."""
    if not asked.address.startswith(("http://", "https://")):
        raise RecipeError("address: give the whole address of a search, beginning with http")
    key = await asyncio.to_thread(_key, state, asked)
    question = Asked(
        asked.term, asked.place, tile_around(state.settings.home or NO_HOME), **asked.business.model_dump()
    )
    second, works = "", True
    async with Client(state.settings, allow_private=state.settings.world is not None) as client:
        read: PlacesRead
        if asked.recipe is not None and asked.recipe.items:
            recipe = _recipe(asked.recipe)
            read = await read_api(client, recipe, question, key)
        else:
            recipe, read = await find_api(
                client, _access(asked), asked.address, asked.body, question, key, asked.answer
            )
        if not asked.answer:
            second, works = await second_page(client, recipe, question, key, read)
    rows = [dict(row) for row in read.rows[:ROWS_SHOWN]]
    return ApiSampleResponse(
        recipe=api_response(0, recipe), rows=rows, total=read.total, second=second, second_works=works
    )
