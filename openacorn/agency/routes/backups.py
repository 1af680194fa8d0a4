"""Backups by the clock: which there are, one now, and their key."""

from fastapi import APIRouter

from openacorn.agency.backing_up import folder_of, kept_backups, make_encrypted, new_key
from openacorn.agency.schemas.backups import BackupLine, BackupsResponse
from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import DeskRoute
from openacorn.settings_file import change_settings

router = APIRouter(route_class=DeskRoute, tags=["backups"])


def _response(state: AppState, key: str = "") -> BackupsResponse:
    settings, folder = state.settings, folder_of(state.folder, state.settings)
    return BackupsResponse(
        folder=str(folder), every=settings.backup_every, keep=settings.backup_keep, locked=bool(settings.backup_key),
        backups=[BackupLine.model_validate(one) for one in kept_backups(folder)], key=key,
    )  # fmt: skip


@router.get("/backups")
def list_backups(state: AppDep) -> BackupsResponse:
    """The backups there are, the newest first."""
    return _response(state)


@router.post("/backups", status_code=201)
def back_up(state: AppDep) -> BackupsResponse:
    """Make a backup now: it is tried out, then encrypted."""
    make_encrypted(state.folder, state.settings)
    return _response(state)


@router.post("/backups/key", status_code=201)
def make_key(state: AppDep) -> BackupsResponse:
    """Make a key for backups from now on. It is shown in this answer and kept nowhere: without it nobody opens them."""
    lock, key = new_key()
    change_settings(state.folder, state.settings, {"backup_key": lock})
    return _response(state, key)
