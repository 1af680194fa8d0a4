"""Recipes of directories."""

import sqlite3
from dataclasses import dataclass

from openacorn.core.gather.recipe import Recipe, dump, load
from openacorn.errors import NameTaken, NotFound


@dataclass(frozen=True, slots=True)
class SavedRecipe:
    """A recipe with its id; a sweep names it "directory:<id>"."""

    id: int
    title: str
    plan: Recipe
    made_at: str


def _kept(row: sqlite3.Row) -> SavedRecipe:
    return SavedRecipe(row["id"], row["title"], load(row["body"]), row["made_at"])


def list_recipes(conn: sqlite3.Connection) -> list[SavedRecipe]:
    """All recipes, oldest first."""
    return [_kept(row) for row in conn.execute("SELECT id, title, body, made_at FROM reading_plan ORDER BY id")]


def get_recipe(conn: sqlite3.Connection, plan_id: int) -> SavedRecipe:
    """One recipe. Raises NotFound."""
    row = conn.execute("SELECT id, title, body, made_at FROM reading_plan WHERE id = ?", (plan_id,)).fetchone()
    if row is None:
        raise NotFound(f"there is no recipe {plan_id}")
    return _kept(row)


def insert_recipe(conn: sqlite3.Connection, plan: Recipe, at: str) -> int:
    """Keep a plan; return its id. Raises NameTaken."""
    try:
        row = conn.execute(
            "INSERT INTO reading_plan (title, body, made_at) VALUES (?, ?, ?) RETURNING id",
            (plan.title, dump(plan), at),
        ).fetchone()
    except sqlite3.IntegrityError:
        raise NameTaken(f"there is a recipe called {plan.title!r} already; choose another name") from None
    return int(row[0])


def update_recipe(conn: sqlite3.Connection, plan_id: int, plan: Recipe) -> None:
    """Replace a plan. Raises NotFound or NameTaken."""
    get_recipe(conn, plan_id)
    try:
        conn.execute("UPDATE reading_plan SET title = ?, body = ? WHERE id = ?", (plan.title, dump(plan), plan_id))
    except sqlite3.IntegrityError:
        raise NameTaken(f"there is a recipe called {plan.title!r} already; choose another name") from None
