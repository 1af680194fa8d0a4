"""What happens to people's data automatically: a person brought back by a source is erased again, old data is removed."""

import asyncio
import logging
import sqlite3
from contextlib import suppress
from pathlib import Path

from openacorn.db.database import Database
from openacorn.privacy.erasing import erase_returned, remove_untouched
from openacorn.settings import Settings

LOOKED_S = 6 * 3600
"""Between two looks for what is too old."""

FIRST_S = 300

log = logging.getLogger(__name__)


class Keeping:
    """Works aside, while the application runs."""

    def __init__(self, folder: Path, database: Database, settings: Settings) -> None:
        self._folder, self._database, self._settings = folder, database, settings
        self._tasks: set[asyncio.Task[None]] = set()

    def begin(self) -> None:
        """Look for what is too old, now and then."""
        self._add(asyncio.create_task(self._look()))

    def after_run(self) -> None:
        """Erase again the people that a run has brought back; nobody waits for it."""
        self._add(asyncio.create_task(self._again()))

    def _add(self, task: asyncio.Task[None]) -> None:
        self._tasks.add(task)
        task.add_done_callback(self._tasks.discard)

    async def _again(self) -> None:
        try:
            await asyncio.to_thread(erase_returned, self._folder, self._database)
        except sqlite3.OperationalError:
            log.warning("people who were erased could not be looked for; the next run tries again")

    async def _look(self) -> None:
        await asyncio.sleep(FIRST_S)
        while True:
            try:
                await asyncio.to_thread(remove_untouched, self._database, self._settings.retention_months)
            except sqlite3.OperationalError:
                log.warning("people's data that are too old could not be removed; the next look tries again")
            await asyncio.sleep(LOOKED_S)

    async def close(self) -> None:
        """End it."""
        for task in list(self._tasks):
            task.cancel()
            with suppress(asyncio.CancelledError):
                await task
