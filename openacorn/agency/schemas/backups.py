"""Backups."""

from openacorn.api.schemas import ResponseModel


class BackupLine(ResponseModel):
    """One of the backups there are."""

    name: str
    at: str
    bytes: int


class BackupsResponse(ResponseModel):
    """every: "never", "day" or "week"; locked: is there a key to encrypt for? key: of the lock just made, in that answer alone."""

    folder: str
    every: str
    keep: int
    locked: bool
    backups: list[BackupLine]
    key: str = ""
