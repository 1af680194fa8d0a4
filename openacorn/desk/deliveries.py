"""Unattended deliveries of kept exports: into a folder, to a webhook; what fails waits and is tried again."""

import asyncio
import logging
import os
from datetime import timedelta
from pathlib import Path

from openacorn.clock import now, utc_now
from openacorn.db.database import Database
from openacorn.desk.exports import Exporter, format_of
from openacorn.desk.store import presets
from openacorn.desk.store.presets import Delivery, Preset
from openacorn.errors import InvalidInput
from openacorn.net import webhook
from openacorn.net.destinations.destination import DestinationError
from openacorn.net.destinations.folder import allowed_folder
from openacorn.settings import Settings

log = logging.getLogger(__name__)
AGAIN_AFTER_S = (60, 300, 900, 3600, 6 * 3600)
"""Rests after the first, second … failure; the last one from then on."""


class DeliveryError(InvalidInput):
    """A delivery failed; the message says why."""

    where = "folder"
    remedy = "choose another folder"


class Deliveries:
    """Delivers the presets of one application, one at a time."""

    def __init__(self, database: Database, exporter: Exporter, settings: Settings) -> None:
        self._database, self._exporter, self._settings = database, exporter, settings
        self._turn = asyncio.Lock()

    async def deliver_all(self) -> list[str]:
        """Deliver every preset to each of its targets; return what went wrong, in words. One fault stops no other delivery."""
        kept, _ = await asyncio.to_thread(self._kept)
        wanted = [(preset, target) for preset in kept for target in preset.export.targets]
        done = [(preset, await self._deliver(preset, target)) for preset, target in wanted]
        return [
            f"the export “{preset.name}” was not delivered to {getattr(preset.export, last.target)}: {last.error}; "
            "it is tried again"
            for preset, last in done
            if last.error
        ]

    async def deliver_waiting(self) -> None:
        """Try again what failed before and is due."""
        found, last = await asyncio.to_thread(self._kept)
        moment = utc_now()
        due = {(d.preset_id, d.target) for d in last if d.next_at and d.next_at <= moment}
        for preset in found:
            for target in preset.export.targets:
                if (preset.id, target) in due:
                    await self._deliver(preset, target)

    async def deliver(self, preset_id: int) -> None:
        """Deliver one preset now, to each of its targets. Raises NotFound."""
        preset = await asyncio.to_thread(self._one, preset_id)
        for target in preset.export.targets:
            await self._deliver(preset, target)

    def _kept(self) -> tuple[list[Preset], list[Delivery]]:
        """(all presets, the last deliveries)."""
        with self._database.read() as conn:
            return presets.list_presets(conn), presets.list_deliveries(conn)

    def _one(self, preset_id: int) -> Preset:
        with self._database.read() as conn:
            return presets.get_preset(conn, preset_id)

    async def _deliver(self, preset: Preset, target: str) -> Delivery:
        """Deliver to one target and note how it ended; businesses count as exported only if it succeeded."""
        async with self._turn:
            ids: list[int] = []
            error = ""
            try:
                others = [preset.noted_as(other) for other in preset.export.targets if other != target]
                ids = await asyncio.to_thread(self._exporter.ids, preset.export, others)
                body = await asyncio.to_thread(lambda: b"".join(self._exporter.chunks(preset.export, ids)))
                await self._send(preset, target, body, len(ids))
            except OSError as failed:
                error = failed.strerror or str(failed)
            except (DeliveryError, DestinationError, ValueError) as failed:
                error = str(failed)
            except Exception as failed:
                log.exception("delivery of export %d to %s failed", preset.id, target)
                error = f"{type(failed).__name__}: {failed}"
            return await asyncio.to_thread(self._note, preset, target, ids, error)

    def _note(self, preset: Preset, target: str, ids: list[int], error: str) -> Delivery:
        with self._database.write() as conn:
            before = [d for d in presets.list_deliveries(conn) if (d.preset_id, d.target) == (preset.id, target)]
            failures = before[0].attempts if before and before[0].error else 0
            rest = AGAIN_AFTER_S[min(failures, len(AGAIN_AFTER_S) - 1)]
            again = (now() + timedelta(seconds=rest)).isoformat(timespec="seconds") if error else None
            done = Delivery(preset.id, target, utc_now(), failures + 1, len(ids), error, again)
            presets.note_delivery(conn, done)
            if not error:
                presets.note_exported(conn, ids, done.tried_at, preset.noted_as(target))
        return done

    async def _send(self, preset: Preset, target: str, body: bytes, rows: int) -> None:
        """Raises DeliveryError, OSError."""
        form = format_of(preset.export.format)
        if target == "webhook":
            rows_sent = {"X-Row-Count": str(rows)}
            if fault := await webhook.post(self._settings, preset.export.webhook, body, form.media_type, rows_sent):
                raise DeliveryError(fault)
        else:
            name = f"{preset.name}-{now():%Y%m%d-%H%M%S}.{form.suffix}"
            folder = allowed_folder(self._settings, self._database.path.parent, preset.export.folder)
            await asyncio.to_thread(_put_file, folder, name, body)


def _put_file(folder: Path, name: str, body: bytes) -> None:
    """Write a file in one step: who watches the folder never meets half of one."""
    safe = "".join(char if char.isalnum() or char in " ._-" else "_" for char in name)
    folder.mkdir(parents=True, exist_ok=True)
    draft = folder / f".{safe}.part"
    try:
        draft.write_bytes(body)
        os.replace(draft, folder / safe)
    finally:
        draft.unlink(missing_ok=True)
