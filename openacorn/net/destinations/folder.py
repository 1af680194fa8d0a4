"""A folder of this machine."""

import asyncio
import os
from pathlib import Path

from openacorn.net.destinations.destination import DestinationError
from openacorn.settings import Settings

PART = ".part"
DELIVERIES = "deliveries"
"""Folder beside the database that may always be delivered into."""


class FolderRefused(DestinationError):
    """A folder that nothing may be written into; the message says why."""

    where = "folder"
    remedy = "choose another folder"


class FolderDestination:
    """A folder as a place. Links below it are not followed out of it."""

    def __init__(self, root: Path) -> None:
        self._root = root

    def _at(self, path: str) -> Path:
        found = self._root / path
        if not found.resolve().is_relative_to(self._root.resolve()):
            raise DestinationError(f"{path} leads out of {self._root}")
        return found

    async def exists(self, path: str) -> bool:
        """Is there a file?"""
        return await asyncio.to_thread(self._at(path).exists)

    async def write(self, path: str, body: bytes) -> None:
        """Put a file there in one step."""
        await asyncio.to_thread(self._write, self._at(path), body)

    async def remove(self, path: str) -> None:
        """Take a file away, if it is there."""
        await asyncio.to_thread(self._at(path).unlink, missing_ok=True)

    @staticmethod
    def _write(target: Path, body: bytes) -> None:
        try:
            target.parent.mkdir(parents=True, exist_ok=True)
            part = target.with_name(target.name + PART)
            part.write_bytes(body)
            os.replace(part, target)
        except OSError as error:
            raise DestinationError(f"{target} cannot be written: {error.strerror}") from error


def allowed_folder(settings: Settings, data: Path, wanted: str) -> Path:
    """The folder that is wanted, links followed; a name alone is a folder under `data`/deliveries.

    Raises FolderRefused if it lies outside the folders that the settings allow: who can reach the application must not be able
    to write anywhere on the machine.
    """
    home = data.absolute() / DELIVERIES
    roots = [home.resolve(), *(Path(root).expanduser().resolve() for root in settings.delivery_folders)]
    try:
        folder = (home / Path(wanted).expanduser()).resolve()
    except (OSError, RuntimeError, ValueError) as error:
        raise FolderRefused(f"{wanted!r} is no folder: {error}") from None
    if not any(folder.is_relative_to(root) for root in roots):
        raise FolderRefused(
            f"{wanted} is outside the folders that may be delivered into ({', '.join(map(str, roots))}); "
            "add it to the delivery folders in Settings"
        )
    return folder
