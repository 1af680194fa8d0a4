"""Unattended deliveries of kept exports: into a folder, to a webhook; what fails waits and is tried again."""

import asyncio
import os
from datetime import UTC, datetime, timedelta
from pathlib import Path

import aiohttp
import structlog

from openacorn.jobs.exporting import Exporter, format_of
from openacorn.net.probes.site import now
from openacorn.store import presets
from openacorn.store.db import Database
from openacorn.store.presets import Delivery, Preset

log = structlog.get_logger()
DELIVERY_S = 30.0
AGAIN_AFTER_S = (60, 300, 900, 3600, 6 * 3600)
"""Rests after the first, second … failure; the last one from then on."""


class DeliveryError(Exception):
    """A delivery failed; the message says why."""


class Deliveries:
    """Delivers the presets of one application, one at a time."""

    def __init__(self, database: Database, exporter: Exporter) -> None:
        self._database, self._exporter = database, exporter
        self._turn = asyncio.Lock()

    async def deliver_all(self) -> list[str]:
        """Deliver every preset to each of its targets; return what went wrong, in words. One fault stops no other delivery."""
        with self._database.read() as conn:
            wanted = [(preset, target) for preset in presets.list_presets(conn) for target in preset.export.targets]
        done = [(preset, await self._deliver(preset, target)) for preset, target in wanted]
        return [
            f"the export “{preset.name}” was not delivered to {getattr(preset.export, last.target)}: {last.error}; "
            "it is tried again"
            for preset, last in done
            if last.error
        ]

    async def deliver_waiting(self) -> None:
        """Try again what failed before and is due."""
        moment = now()
        with self._database.read() as conn:
            due = {(d.preset_id, d.target) for d in presets.list_deliveries(conn) if d.next_at and d.next_at <= moment}
            found = presets.list_presets(conn) if due else []
        for preset in found:
            for target in preset.export.targets:
                if (preset.id, target) in due:
                    await self._deliver(preset, target)

    async def deliver(self, preset_id: int) -> None:
        """Deliver one preset now, to each of its targets. Raises NotFound."""
        with self._database.read() as conn:
            preset = presets.get_preset(conn, preset_id)
        for target in preset.export.targets:
            await self._deliver(preset, target)

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
            except (DeliveryError, ValueError) as failed:
                error = str(failed)
            except Exception as failed:
                log.exception("delivery failed", preset=preset.id, target=target)
                error = f"{type(failed).__name__}: {failed}"
            return await asyncio.to_thread(self._note, preset, target, ids, error)

    def _note(self, preset: Preset, target: str, ids: list[int], error: str) -> Delivery:
        with self._database.write() as conn:
            before = [d for d in presets.list_deliveries(conn) if (d.preset_id, d.target) == (preset.id, target)]
            failures = before[0].attempts if before and before[0].error else 0
            rest = AGAIN_AFTER_S[min(failures, len(AGAIN_AFTER_S) - 1)]
            again = (datetime.now(UTC) + timedelta(seconds=rest)).isoformat(timespec="seconds") if error else None
            done = Delivery(preset.id, target, now(), failures + 1, len(ids), error, again)
            presets.note_delivery(conn, done)
            if not error:
                presets.note_exported(conn, ids, done.tried_at, preset.noted_as(target))
        return done

    async def _send(self, preset: Preset, target: str, body: bytes, rows: int) -> None:
        """Raises DeliveryError, OSError."""
        form = format_of(preset.export.format)
        if target == "webhook":
            await _post(preset.export.webhook, form.media_type, body, rows)
        else:
            name = f"{preset.name}-{datetime.now(UTC):%Y%m%d-%H%M%S}.{form.suffix}"
            await asyncio.to_thread(_put_file, Path(preset.export.folder), name, body)


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


async def _post(url: str, media_type: str, body: bytes, rows: int) -> None:
    """Raises DeliveryError."""
    try:
        timeout = aiohttp.ClientTimeout(total=DELIVERY_S)
        headers = {"Content-Type": media_type, "X-Row-Count": str(rows)}
        async with (
            aiohttp.ClientSession(timeout=timeout) as session,
            session.post(url, data=body, headers=headers) as answer,
        ):
            if answer.status >= 400:
                raise DeliveryError(f"it answered HTTP {answer.status}")
    except aiohttp.ClientConnectorError as error:
        number = error.os_error.errno or 0
        why = os.strerror(number).lower() if number > 0 else "its name is not known"
        raise DeliveryError(f"it could not be reached, {why}") from None
    except TimeoutError:
        raise DeliveryError(f"it did not answer within {DELIVERY_S:g} s") from None
    except (aiohttp.ClientError, ValueError) as error:
        raise DeliveryError(f"it could not be reached: {error or type(error).__name__}") from None
