"""Look-ups: APIs that are asked about one business at a time, while it is audited."""

import sqlite3
from collections.abc import Collection
from dataclasses import dataclass
from pathlib import Path

from openacorn.core.gather.api_recipe import ApiRecipe
from openacorn.db import secrets
from openacorn.gather.reach import API
from openacorn.gather.store import recipes


@dataclass(frozen=True, slots=True)
class LookUp:
    """An API that is asked about one business at a time. source: its id."""

    source: str
    recipe: ApiRecipe
    key: str


def own_look_ups(conn: sqlite3.Connection, folder: Path, sources: Collection[str]) -> tuple[LookUp, ...]:
    """Those of a plan's sources that are look-ups made by the user. folder: of the data. Raises SealBroken."""
    found = []
    for kept in recipes.list_apis(conn):
        source = f"{API}{kept.id}"
        if source in sources and kept.recipe.by == "business":
            found.append(LookUp(source, kept.recipe, secrets.reveal(conn, folder, source)))
    return tuple(found)
