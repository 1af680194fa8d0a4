"""Recipes of directories and of APIs."""

import sqlite3
from dataclasses import dataclass

import orjson

from openacorn.core.gather.api_check import api_of
from openacorn.core.gather.api_recipe import ApiRecipe, dump_api
from openacorn.core.gather.recipe import Recipe, dump, load
from openacorn.errors import NameTaken, NotFound


@dataclass(frozen=True, slots=True)
class SavedRecipe:
    """A directory's recipe with its id; a sweep names it "directory:<id>"."""

    id: int
    title: str
    plan: Recipe
    made_at: str


@dataclass(frozen=True, slots=True)
class SavedApi:
    """An API's recipe with its id; a sweep names it "api:<id>"."""

    id: int
    title: str
    recipe: ApiRecipe
    made_at: str


LIST = "SELECT id, title, body, made_at FROM reading_plan WHERE kind = ? ORDER BY id"
GET = "SELECT id, title, body, made_at FROM reading_plan WHERE kind = ? AND id = ?"
INSERT = "INSERT INTO reading_plan (kind, title, body, made_at) VALUES (?, ?, ?, ?) RETURNING id"
UPDATE = "UPDATE reading_plan SET title = ?, body = ? WHERE kind = ? AND id = ?"
DELETE = "DELETE FROM reading_plan WHERE kind = ? AND id = ?"


def _directory(row: sqlite3.Row) -> SavedRecipe:
    return SavedRecipe(row["id"], row["title"], load(row["body"]), row["made_at"])


def _api(row: sqlite3.Row) -> SavedApi:
    return SavedApi(row["id"], row["title"], api_of(orjson.loads(row["body"])), row["made_at"])


def _row(conn: sqlite3.Connection, kind: str, recipe_id: int) -> sqlite3.Row:
    row: sqlite3.Row | None = conn.execute(GET, (kind, recipe_id)).fetchone()
    if row is None:
        raise NotFound(f"there is no recipe {recipe_id}")
    return row


def list_recipes(conn: sqlite3.Connection) -> list[SavedRecipe]:
    """All directories' recipes, oldest first."""
    return [_directory(row) for row in conn.execute(LIST, ("directory",))]


def list_apis(conn: sqlite3.Connection) -> list[SavedApi]:
    """All APIs' recipes, oldest first."""
    return [_api(row) for row in conn.execute(LIST, ("api",))]


def get_recipe(conn: sqlite3.Connection, recipe_id: int) -> SavedRecipe:
    """One directory's recipe. Raises NotFound."""
    return _directory(_row(conn, "directory", recipe_id))


def get_api(conn: sqlite3.Connection, recipe_id: int) -> SavedApi:
    """One API's recipe. Raises NotFound."""
    return _api(_row(conn, "api", recipe_id))


def kind_of(recipe: Recipe | ApiRecipe) -> str:
    """What a recipe is of: begins its source's id."""
    return "api" if isinstance(recipe, ApiRecipe) else "directory"


def _parts(recipe: Recipe | ApiRecipe) -> tuple[str, str]:
    """(kind, JSON) of a recipe."""
    return kind_of(recipe), dump_api(recipe) if isinstance(recipe, ApiRecipe) else dump(recipe)


def insert_recipe(conn: sqlite3.Connection, recipe: Recipe | ApiRecipe, at: str) -> int:
    """Keep a recipe; return its id. Raises NameTaken."""
    kind, body = _parts(recipe)
    try:
        return int(conn.execute(INSERT, (kind, recipe.title, body, at)).fetchone()[0])
    except sqlite3.IntegrityError:
        raise _taken(recipe.title) from None


def update_recipe(conn: sqlite3.Connection, recipe_id: int, recipe: Recipe | ApiRecipe) -> None:
    """Replace a recipe. Raises NotFound or NameTaken."""
    kind, body = _parts(recipe)
    _row(conn, kind, recipe_id)
    try:
        conn.execute(UPDATE, (recipe.title, body, kind, recipe_id))
    except sqlite3.IntegrityError:
        raise _taken(recipe.title) from None


def delete_recipe(conn: sqlite3.Connection, kind: str, recipe_id: int) -> None:
    """Forget a recipe; what was gathered by it stays. Raises NotFound."""
    _row(conn, kind, recipe_id)
    conn.execute(DELETE, (kind, recipe_id))


def _taken(title: str) -> NameTaken:
    return NameTaken(f"there is a recipe called {title!r} already; choose another name")
