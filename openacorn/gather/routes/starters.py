"""Recipes to begin with."""

from dataclasses import asdict

from fastapi import APIRouter

from openacorn.api.threads import DeskRoute
from openacorn.core.gather.api_recipe import ApiRecipe
from openacorn.gather.schemas.apis import ApiResponse
from openacorn.gather.schemas.recipes import RecipeResponse, StarterResponse
from openacorn.gather.starters import Starter, all_starters

router = APIRouter(route_class=DeskRoute, tags=["recipes"])


def _response(starter: Starter) -> StarterResponse:
    recipe = starter.recipe
    said = {"id": 0, **asdict(recipe), "secret_kept": False}
    if isinstance(recipe, ApiRecipe):
        api = ApiResponse.model_validate({**said, "by": recipe.by})
        return StarterResponse(about=starter.about, api=api, directory=None)
    return StarterResponse(about=starter.about, api=None, directory=RecipeResponse.model_validate(said))


@router.get("/recipes/starters")
def list_starters() -> list[StarterResponse]:
    """Recipes for software that many directories and data portals run on, each to be filled in."""
    return [_response(starter) for starter in all_starters()]
