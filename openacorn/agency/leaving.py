"""From the demo to the user's own data: the demo's application ends, and the real one starts at the same address."""

from collections.abc import Callable
from pathlib import Path

from openacorn.db.folder import DATABASE, FolderError, locked
from openacorn.errors import Conflict


class CannotLeave(Conflict):
    """The user's own data cannot be opened now; the message says why."""

    where = "demo"
    remedy = "end the other Open Acorn, then try again"


class Leaving:
    """What the demo's application knows of the user's own data. own: its folder; stop: ends the application."""

    def __init__(self, own: Path) -> None:
        self._own = own
        self.stop: Callable[[], None] | None = None
        self.asked = False

    @property
    def own_data(self) -> bool:
        """Is there data of the user's own already?"""
        return (self._own / DATABASE).exists()

    def leave(self) -> None:
        """Have the application end, and the real one started after it. Raises CannotLeave if the folder is in use."""
        try:
            with locked(self._own):
                self.asked = True
        except FolderError as error:
            raise CannotLeave(str(error)) from None
        if self.stop is not None:
            self.stop()
