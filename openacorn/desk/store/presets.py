"""Exports kept by name, and who was exported when and to what."""

import sqlite3
from collections.abc import Iterable
from dataclasses import asdict, astuple, dataclass

import orjson
from pydantic import TypeAdapter

from openacorn.core.export.layout import FileLayout
from openacorn.errors import NotFound

LIST = "SELECT id, name, body, made_at FROM preset ORDER BY name"
PUT = """
INSERT INTO preset (name, body, made_at) VALUES (?, ?, ?)
ON CONFLICT (name) DO UPDATE SET body = excluded.body RETURNING id
"""
NOTE = "INSERT OR IGNORE INTO exported (business_id, at, target) SELECT id, ?, ? FROM business WHERE id = ?"
EXPORTED = """
SELECT DISTINCT business_id FROM exported WHERE target NOT IN (SELECT value FROM json_each(?))
"""
TARGETS = ("folder", "webhook")
"""Where a kept export can be delivered to, unattended."""

NOTE_DELIVERY = """
INSERT OR REPLACE INTO delivery (preset_id, target, tried_at, attempts, rows, error, next_at) VALUES (?, ?, ?, ?, ?, ?, ?)
"""
DELIVERIES = (
    "SELECT preset_id, target, tried_at, attempts, rows, error, next_at FROM delivery ORDER BY preset_id, target"
)


@dataclass(frozen=True, slots=True)
class ExportSpec:
    """What an export writes. columns: ids in their order, () the usual ones; only_new: businesses never exported before.

    folder, webhook: where it is delivered after each run, "" for neither; token: guards its stable link, "" for none;
    layout: how another tool wants its file, None for ours.
    """

    format: str = "csv"
    columns: tuple[str, ...] = ()
    filter: dict[str, str] | None = None
    sort: str = "-value"
    only_new: bool = False
    folder: str = ""
    webhook: str = ""
    token: str = ""
    layout: FileLayout | None = None

    @property
    def targets(self) -> tuple[str, ...]:
        """The targets that it is delivered to."""
        return tuple(target for target in TARGETS if getattr(self, target))


@dataclass(frozen=True, slots=True)
class Preset:
    """An export kept by name."""

    id: int
    name: str
    export: ExportSpec
    made_at: str

    def noted_as(self, target: str) -> str:
        """How businesses that were delivered to a target are noted."""
        return f"preset {self.id}: {target}"


@dataclass(frozen=True, slots=True)
class Delivery:
    """The last delivery of a preset to a target. rows: how many went, or wait if there is an error; next_at: the next try."""

    preset_id: int
    target: str
    tried_at: str
    attempts: int
    rows: int
    error: str
    next_at: str | None


_EXPORT = TypeAdapter(ExportSpec)


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


def put_preset(conn: sqlite3.Connection, name: str, export: ExportSpec, at: str) -> int:
    """Keep an export under a name; one of that name is replaced. Returns its id."""
    return int(conn.execute(PUT, (name, orjson.dumps(asdict(export)).decode(), at)).fetchone()[0])


def drop_preset(conn: sqlite3.Connection, preset_id: int) -> None:
    """Forget a preset. Raises NotFound."""
    if conn.execute("DELETE FROM preset WHERE id = ?", (preset_id,)).rowcount == 0:
        raise NotFound(f"there is no preset {preset_id}")


def note_exported(conn: sqlite3.Connection, ids: Iterable[int], at: str, target: str) -> None:
    """Note who went out, when and to what."""
    conn.executemany(NOTE, ((at, target, business) for business in ids))


def ever_exported(conn: sqlite3.Connection, but_to: Iterable[str] = ()) -> set[int]:
    """Businesses that were exported before, to any target but these."""
    return {int(row[0]) for row in conn.execute(EXPORTED, (orjson.dumps(list(but_to)).decode(),))}


def note_delivery(conn: sqlite3.Connection, done: Delivery) -> None:
    """Keep how the last delivery to a target ended, in place of the one before."""
    conn.execute(NOTE_DELIVERY, astuple(done))


def list_deliveries(conn: sqlite3.Connection) -> list[Delivery]:
    """The last delivery of every preset to each of its targets."""
    return [Delivery(**dict(row)) for row in conn.execute(DELIVERIES)]
