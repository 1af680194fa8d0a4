"""Exports: columns, rows in batches, and which businesses were exported before."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from typing import Any

import orjson

from openacorn.business.columns import COLUMNS, Export
from openacorn.business.snapshot import Snapshot
from openacorn.business.store import audits, businesses, membership, own_trades, pipeline, services
from openacorn.clock import now, utc_now
from openacorn.core.audit.check import all_checks
from openacorn.core.audit.extract.phones import dialled
from openacorn.core.desk.filters import FilterError, parse_filter
from openacorn.core.export.format import Cell, Column, ExportRecord, Format, all_formats
from openacorn.core.export.layout import write_layout
from openacorn.db.database import Database
from openacorn.desk.hiding import check_lists
from openacorn.desk.store import presets
from openacorn.desk.store.presets import ExportSpec
from openacorn.settings import Settings

BATCH = 500
IN_FILES = tuple(column for column in COLUMNS if column.export is not Export.NEVER)
DEFAULT_COLUMNS = tuple(column.id for column in IN_FILES if column.export is Export.USUAL)


def export_columns() -> dict[str, Column]:
    """Column id → column: all that can be exported, each check's outcome among them."""
    fixed = [Column(column.id, column.file or column.id) for column in IN_FILES]
    checks = [Column(f"check.{check.id}", check.title) for check in all_checks()]
    return {column.id: column for column in (*fixed, *checks)}


def chosen_columns(ids: Sequence[str]) -> list[Column]:
    """The columns wanted; the usual ones and every check if none is named. Raises FilterError."""
    known = export_columns()
    wanted = list(ids) or [*DEFAULT_COLUMNS, *(name for name in known if name.startswith("check."))]
    strange = [name for name in wanted if name not in known]
    if strange:
        raise FilterError(f"there is no column {strange[0]!r} to export")
    return [known[name] for name in wanted]


def format_of(format_id: str) -> Format:
    """A format. Raises FilterError."""
    formats = all_formats()
    if format_id not in formats:
        raise FilterError(f"there is no export format {format_id!r}; choose from {', '.join(formats)}")
    return formats[format_id]


class Exporter:
    """Writes exports of one application."""

    def __init__(
        self, database: Database, snapshot: Snapshot, settings: Settings, checks: Callable[[], tuple[str, ...]]
    ) -> None:
        self._database, self._snapshot, self._settings, self._checks = database, snapshot, settings, checks

    def ids(self, export: ExportSpec, but_to: Sequence[str] = ()) -> list[int]:
        """The businesses in an export, in its order; with `only_new` those never exported, to any target but `but_to`.

        Raises FilterError.
        """
        chosen = parse_filter(export.filter or {}, self._checks())
        check_lists(self._database, chosen)
        with self._snapshot.current(exact=True) as grid:
            mask = grid.select(chosen, now().timestamp())
            found = grid.order(mask, export.sort, 0, int(mask.sum()))
        if not export.only_new:
            return found
        with self._database.read() as conn:
            before = presets.ever_exported(conn, but_to)
        return [business for business in found if business not in before]

    def write(self, export: ExportSpec, ids: Sequence[int], target: str) -> Iterator[bytes]:
        """The file in chunks; once the last one was taken, it is noted which businesses were in it."""
        yield from self.chunks(export, ids)
        with self._database.write() as conn:
            presets.note_exported(conn, ids, utc_now(), target)

    def chunks(self, export: ExportSpec, ids: Sequence[int]) -> Iterator[bytes]:
        """The file in chunks. Raises FilterError."""
        if export.layout is not None:
            columns = [column.id for column in chosen_columns(export.columns)]
            return write_layout(export.layout, columns, self._records(export, ids))
        return format_of(export.format).write(chosen_columns(export.columns), self._records(export, ids))

    def _records(self, export: ExportSpec, ids: Sequence[int]) -> Iterator[ExportRecord]:
        columns = [column.id for column in chosen_columns(export.columns)]
        with self._database.read() as conn:
            titles = {service.id: service.title for service in services.list_services(conn)}
            labels = {trade.id: trade.label for trade in own_trades.trades_there(conn).trades}
        for start in range(0, len(ids), BATCH):
            piece = ids[start : start + BATCH]
            with self._database.read() as conn:
                groups = membership.groups_of(conn, piece)
                for row in businesses.get_businesses(conn, piece):
                    whole = self._whole(row, groups.get(row["id"], {}), labels, titles)
                    mails = [
                        item["value"] for item in audits.list_own_contacts(conn, row["id"]) if item["kind"] == "email"
                    ]
                    whole["emails"] = "; ".join(mails)
                    if "person" in columns or export.format == "vcard":
                        whole["person"] = audits.first_person(conn, row["id"])
                    if "notes" in columns:
                        whole["notes"] = " / ".join(
                            step.text for step in pipeline.list_activities(conn, row["id"]) if step.kind == "note"
                        )
                    yield ExportRecord([whole.get(name) for name in columns], whole)

    def _whole(
        self,
        row: Mapping[str, Any],
        groups: Mapping[str, list[str]],
        labels: Mapping[str, str],
        titles: Mapping[str, str],
    ) -> dict[str, Cell]:
        whole: dict[str, Cell] = {column.id: row[column.id] for column in IN_FILES if column.read is None}
        outcomes = orjson.loads(row["outcomes"])
        whole |= {f"check.{check}": outcomes.get(check, "") for check in self._checks()}
        return whole | {
            "value": None if row["value"] is None else round(row["value"], 2),
            "phone": dialled(row["phone"], self._settings.region),
            "trade": labels.get(row["trade"], row["trade"]),
            "offer": titles.get(row["offer"], ""),
            "has": "; ".join(orjson.loads(row["channels"])),
            "stage": "; ".join(groups.get("stage", ["new"])),
            "tags": "; ".join(groups.get("tag", ())),
            "sources": "; ".join(orjson.loads(row["sources"])),
        }
