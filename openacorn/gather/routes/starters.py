"""Recipes to begin with."""

from fastapi import APIRouter

from openacorn.api.threads import DeskRoute
from openacorn.core.gather.api_recipe import ApiRecipe
from openacorn.gather.routes.apis import api_response
from openacorn.gather.routes.recipes import recipe_response
from openacorn.gather.schemas.recipes import StarterResponse
from openacorn.gather.starters import Starter, all_starters

router = APIRouter(route_class=DeskRoute, tags=["recipes"])


def _response(starter: Starter) -> StarterResponse:
    recipe = starter.recipe
    if isinstance(recipe, ApiRecipe):
        return StarterResponse(about=starter.about, api=api_response(0, recipe), directory=None)
    return StarterResponse(about=starter.about, api=None, directory=recipe_response(0, recipe))


@router.get("/recipes/starters")
def list_starters() -> list[StarterResponse]:
    """Recipes for software that many directories and data portals run on, each to be filled in."""
    return [_response(starter) for starter in all_starters()]
