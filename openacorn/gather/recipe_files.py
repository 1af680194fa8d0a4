"""Recipes as files, to be handed on: what a recipe says, without its secret."""

from collections.abc import Callable
from dataclasses import asdict
from typing import Any

import orjson

from openacorn.core.gather.api_check import api_of
from openacorn.core.gather.api_recipe import ApiRecipe
from openacorn.core.gather.recipe import Recipe, RecipeError, plan_of
from openacorn.gather.store.recipes import kind_of

KINDS: dict[str, Callable[[dict[str, Any]], Recipe | ApiRecipe]] = {"directory": plan_of, "api": api_of}
"""What a file holds → how it is read and checked."""


class NotARecipe(RecipeError):
    """A file that holds no recipe; the message says why."""

    where = "file"
    remedy = "choose a file that was saved from Directories or JSON services"


def recipe_file(recipe: Recipe | ApiRecipe) -> bytes:
    """A recipe as the text of a file (JSON). A user's name for a log-in stays out of it, as the secret does."""
    said = asdict(recipe)
    said.pop("user", None)
    return orjson.dumps({"recipe": kind_of(recipe), **said}, option=orjson.OPT_INDENT_2)


def read_recipe(text: str) -> Recipe | ApiRecipe:
    """The recipe in a file. Raises NotARecipe, RecipeError."""
    try:
        said: Any = orjson.loads(text)
    except orjson.JSONDecodeError as error:
        raise NotARecipe(f"this is no JSON: {error}") from None
    if not isinstance(said, dict) or said.get("recipe") not in KINDS:
        raise NotARecipe(f"this is no recipe: its “recipe” must be one of {', '.join(KINDS)}")
    return KINDS[said.pop("recipe")](said)
