"""Recipes to begin with, for software that many directories and data portals run on: recipe files, each with what it is about.

Written from the documentation of each software, from memory; hosts are placeholders that the user replaces.
"""

from dataclasses import dataclass
from functools import cache
from importlib.resources import files

import orjson

from openacorn.core.gather.api_recipe import ApiRecipe
from openacorn.core.gather.recipe import Recipe
from openacorn.gather.recipe_files import read_recipe


@dataclass(frozen=True, slots=True)
class Starter:
    """A recipe to begin with. about: what it reads, and what is to be filled in."""

    about: str
    recipe: Recipe | ApiRecipe


@cache
def all_starters() -> tuple[Starter, ...]:
    """Every starter, by title. Raises RecipeError, naming what is wrong, for a file that holds none."""
    found = []
    for file in files(__package__).iterdir():
        if file.name.endswith(".json"):
            said = orjson.loads(file.read_bytes())
            about = said.pop("about")
            found.append(Starter(about, read_recipe(orjson.dumps(said).decode())))
    return tuple(sorted(found, key=lambda starter: starter.recipe.title))
