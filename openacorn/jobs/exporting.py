"""Exports: columns, rows in batches, who went out before, and deliveries after a run."""

import asyncio
import os
import time
from collections.abc import Callable, Iterator, Mapping, Sequence
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import aiohttp
import orjson

from openacorn.core.audit.check import all_checks
from openacorn.core.audit.extract.contacts import dialled
from openacorn.core.export.format import Cell, Column, Format, Record, all_formats
from openacorn.core.filters import FilterError, parse_filter
from openacorn.core.trades.catalogue import all_trades
from openacorn.net.probes.site import now
from openacorn.settings import Settings
from openacorn.store import audits, businesses, membership, presets, services, work
from openacorn.store.db import Database
from openacorn.store.presets import Export, Preset
from openacorn.store.snapshot import Snapshot

BATCH = 500
DELIVERY_S = 30.0
PLAIN: dict[str, str] = {
    "id": "id", "name": "name", "street": "street", "town": "town", "postcode": "postcode", "website": "website",
    "rating": "rating", "reviews": "reviews", "score": "score", "value": "expected value", "lat": "latitude",
    "lon": "longitude", "category": "category", "hours": "hours", "platform": "made with", "founded": "founded",
    "revenue_band": "revenue band", "staff_band": "staff", "chain": "chain", "standing": "standing",
    "rejected": "rejected", "first_seen": "first seen", "audited_at": "audited at",
}  # fmt: skip
"""Column of the wide row → heading."""

MADE: dict[str, str] = {
    "phone": "phone", "trade": "trade", "offer": "best offer", "emails": "e-mail addresses", "person": "person",
    "has": "ways to reach them", "stage": "stage", "tags": "tags", "sources": "sources", "notes": "notes",
}  # fmt: skip
USUAL = (
    "id", "name", "street", "town", "postcode", "phone", "website", "rating", "reviews", "score", "lat", "lon", "rejected",
    "audited_at", "trade", "offer", "value", "emails",
)  # fmt: skip


def export_columns() -> dict[str, Column]:
    """Column id → column: all that can be exported, each check's outcome among them."""
    fixed = [Column(name, title) for name, title in (PLAIN | MADE).items()]
    checks = [Column(f"check.{check.id}", check.title) for check in all_checks()]
    return {column.id: column for column in (*fixed, *checks)}


def chosen_columns(ids: Sequence[str]) -> list[Column]:
    """The columns wanted; the usual ones and every check if none is named. Raises FilterError."""
    known = export_columns()
    wanted = list(ids) or [*USUAL, *(name for name in known if name.startswith("check."))]
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

    def ids(self, export: Export) -> list[int]:
        """Who is in it, in its order. Raises FilterError."""
        chosen = parse_filter(export.filter or {}, self._checks())
        with self._snapshot.current() as grid:
            mask = grid.select(chosen, time.time())
            found = grid.order(mask, export.sort, 0, int(mask.sum()))
        if not export.only_new:
            return found
        with self._database.read() as conn:
            before = presets.ever_exported(conn)
        return [business for business in found if business not in before]

    def write(self, export: Export, ids: Sequence[int], target: str) -> Iterator[bytes]:
        """The file in chunks; when it is out, it is noted who was in it."""
        yield from format_of(export.format).write(chosen_columns(export.columns), self._records(export, ids))
        with self._database.write() as conn:
            presets.note_exported(conn, ids, now(), target)

    def _records(self, export: Export, ids: Sequence[int]) -> Iterator[Record]:
        columns = [column.id for column in chosen_columns(export.columns)]
        with self._database.read() as conn:
            titles = {service.id: service.title for service in services.current(conn)}
        labels = {trade.id: trade.label for trade in all_trades()}
        for start in range(0, len(ids), BATCH):
            piece = ids[start : start + BATCH]
            with self._database.read() as conn:
                groups = membership.groups_of(conn, piece)
                for row in businesses.get_businesses(conn, piece):
                    whole = self._whole(row, groups.get(row["id"], {}), labels, titles)
                    mails = [
                        item["value"] for item in audits.own_contacts_of(conn, row["id"]) if item["kind"] == "email"
                    ]
                    whole["emails"] = "; ".join(mails)
                    if "person" in columns or export.format == "vcard":
                        whole["person"] = audits.first_person(conn, row["id"])
                    if "notes" in columns:
                        whole["notes"] = " / ".join(
                            step.text for step in work.steps(conn, row["id"]) if step.kind == "note"
                        )
                    yield Record([whole.get(name) for name in columns], whole)

    def _whole(
        self,
        row: Mapping[str, Any],
        groups: Mapping[str, list[str]],
        labels: Mapping[str, str],
        titles: Mapping[str, str],
    ) -> dict[str, Cell]:
        whole: dict[str, Cell] = {name: row[name] for name in PLAIN}
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

    # Deliveries

    async def deliver_all(self) -> list[str]:
        """Deliver every preset that asks for it; return what went wrong, in words."""
        with self._database.read() as conn:
            wanted = [preset for preset in presets.list_presets(conn) if preset.export.delivered]
        return [fault for preset in wanted for fault in await self._deliver(preset)]

    async def _deliver(self, preset: Preset) -> list[str]:
        export = preset.export
        faults: list[str] = []
        ids = await asyncio.to_thread(self.ids, export)
        body = await asyncio.to_thread(lambda: b"".join(self.write(export, ids, preset.name)))
        suffix = format_of(export.format).suffix
        if export.folder:
            try:
                await asyncio.to_thread(
                    _put_file, Path(export.folder), f"{preset.name}-{datetime.now(UTC):%Y%m%d-%H%M%S}.{suffix}", body
                )
            except OSError as error:
                faults.append(f"the export “{preset.name}” could not be put into {export.folder}: {error.strerror}")
        if export.webhook:
            faults += await _post(preset.name, export.webhook, format_of(export.format).media_type, body, len(ids))
        return faults


def _put_file(folder: Path, name: str, body: bytes) -> None:
    """Write a file in one step: who watches the folder never meets half of one."""
    safe = "".join(char if char.isalnum() or char in " ._-" else "_" for char in name)
    folder.mkdir(parents=True, exist_ok=True)
    draft = folder / f".{safe}.part"
    draft.write_bytes(body)
    os.replace(draft, folder / safe)


async def _post(name: str, url: str, media_type: str, body: bytes, rows: int) -> list[str]:
    try:
        timeout = aiohttp.ClientTimeout(total=DELIVERY_S)
        headers = {"Content-Type": media_type, "X-Row-Count": str(rows)}
        async with (
            aiohttp.ClientSession(timeout=timeout) as session,
            session.post(url, data=body, headers=headers) as answer,
        ):
            if answer.status >= 400:
                return [f"the export “{name}”: {url} answered HTTP {answer.status}"]
    except (aiohttp.ClientError, TimeoutError, ValueError) as error:
        return [f"the export “{name}”: {url} could not be reached: {error or type(error).__name__}"]
    return []
