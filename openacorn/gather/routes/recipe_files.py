"""Recipes as files: saved to hand on, and taken from others."""

from fastapi import APIRouter
from fastapi.responses import Response

from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.clock import utc_now
from openacorn.core.gather.api_recipe import ApiRecipe
from openacorn.core.gather.recipe import Recipe
from openacorn.gather.recipe_files import read_recipe, recipe_file
from openacorn.gather.schemas.recipes import RecipeFileRequest, RecipeTaken
from openacorn.gather.store import recipes as store

router = APIRouter(route_class=DeskRoute, tags=["recipes"])


def _file(recipe: Recipe | ApiRecipe, number: int) -> Response:
    head = {"Content-Disposition": f'attachment; filename="recipe-{number}.json"'}
    return Response(recipe_file(recipe), media_type="application/json", headers=head)


@router.get("/recipes/{plan_id}/file", response_class=Response)
def directory_file(state: AppDep, plan_id: int) -> Response:
    """A directory's recipe as a file, without its secret."""
    with state.database.read() as conn:
        return _file(store.get_recipe(conn, plan_id).plan, plan_id)


@router.get("/apis/{recipe_id}/file", response_class=Response)
def api_file(state: AppDep, recipe_id: int) -> Response:
    """An API's recipe as a file, without its key."""
    with state.database.read() as conn:
        return _file(store.get_api(conn, recipe_id).recipe, recipe_id)


@router.post("/recipes/files", status_code=201)
def take_file(state: AppDep, asked: RecipeFileRequest) -> RecipeTaken:
    """Keep the recipe in a file as one of our sources; a key or log-in is entered afterwards."""
    recipe = read_recipe(asked.text)
    with state.database.write() as conn:
        number = store.insert_recipe(conn, recipe, utc_now())
    return RecipeTaken(source=f"{store.kind_of(recipe)}:{number}", title=recipe.title)
