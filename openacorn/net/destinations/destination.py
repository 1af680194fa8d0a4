"""What all places have in common."""

from typing import Protocol

from openacorn.errors import InvalidInput


class DestinationError(InvalidInput):
    """Something cannot be published there; the message says why."""

    where = "host"
    remedy = "change the host, or try again"


class UploadTarget(Protocol):
    """Files by relative paths with slashes. Every method raises DestinationError."""

    async def exists(self, path: str) -> bool:
        """Is there a file?"""

    async def write(self, path: str, body: bytes) -> None:
        """Put a file there in one step: who opens it meanwhile has the old one or the new one. Folders are made."""

    async def remove(self, path: str) -> None:
        """Take a file away, if it is there."""
