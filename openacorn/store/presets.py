"""Exports kept by name, and who was exported when and to what."""

import sqlite3
from collections.abc import Iterable
from dataclasses import asdict, dataclass

import orjson
from pydantic import TypeAdapter

from openacorn.store.sweeps import NotFound

LIST = "SELECT id, name, body, made_at FROM preset ORDER BY name"
PUT = """
INSERT INTO preset (name, body, made_at) VALUES (?, ?, ?)
ON CONFLICT (name) DO UPDATE SET body = excluded.body RETURNING id
"""
NOTE = "INSERT OR IGNORE INTO exported (business_id, at, target) SELECT id, ?, ? FROM business WHERE id = ?"
EXPORTED = "SELECT DISTINCT business_id FROM exported"


@dataclass(frozen=True, slots=True)
class Export:
    """What an export writes. columns: ids in their order, () the usual ones; only_new: whoever was never exported before.

    folder, webhook: where it is delivered after each run, "" for neither; token: guards its stable link, "" for none.
    """

    format: str = "csv"
    columns: tuple[str, ...] = ()
    filter: dict[str, str] | None = None
    sort: str = "-value"
    only_new: bool = False
    folder: str = ""
    webhook: str = ""
    token: str = ""

    @property
    def delivered(self) -> bool:
        """Is it delivered unattended?"""
        return bool(self.folder or self.webhook)


@dataclass(frozen=True, slots=True)
class Preset:
    """An export kept by name."""

    id: int
    name: str
    export: Export
    made_at: str


_EXPORT = TypeAdapter(Export)


def list_presets(conn: sqlite3.Connection) -> list[Preset]:
    """All presets, by name."""
    return [
        Preset(row["id"], row["name"], _EXPORT.validate_json(row["body"]), row["made_at"]) for row in conn.execute(LIST)
    ]


def get_preset(conn: sqlite3.Connection, preset_id: int) -> Preset:
    """One preset. Raises NotFound."""
    for preset in list_presets(conn):
        if preset.id == preset_id:
            return preset
    raise NotFound(f"there is no preset {preset_id}")


def put_preset(conn: sqlite3.Connection, name: str, export: Export, at: str) -> int:
    """Keep an export under a name; one of that name is replaced. Returns its id."""
    return int(conn.execute(PUT, (name, orjson.dumps(asdict(export)).decode(), at)).fetchone()[0])


def drop_preset(conn: sqlite3.Connection, preset_id: int) -> None:
    """Forget a preset. Raises NotFound."""
    if conn.execute("DELETE FROM preset WHERE id = ?", (preset_id,)).rowcount == 0:
        raise NotFound(f"there is no preset {preset_id}")


def note_exported(conn: sqlite3.Connection, ids: Iterable[int], at: str, target: str) -> None:
    """Note who went out, when and to what."""
    conn.executemany(NOTE, ((at, target, business) for business in ids))


def ever_exported(conn: sqlite3.Connection) -> set[int]:
    """Whoever was exported before."""
    return {int(row[0]) for row in conn.execute(EXPORTED)}
