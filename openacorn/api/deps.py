"""What routes are handed: the store, the runs, the table in memory."""

from dataclasses import dataclass
from pathlib import Path
from typing import Annotated

from fastapi import Depends, Request

from openacorn.core.audit.check import all_checks
from openacorn.jobs.runs import Runs
from openacorn.jobs.scheduling import Scheduling
from openacorn.settings import Settings
from openacorn.store.db import Database
from openacorn.store.snapshot import Snapshot


@dataclass(frozen=True, slots=True)
class Office:
    """Everything one running application holds."""

    folder: Path
    settings: Settings
    database: Database
    runs: Runs
    snapshot: Snapshot
    scheduling: Scheduling


def check_ids() -> tuple[str, ...]:
    """Ids of all checks, in the order of the audit strip."""
    return tuple(check.id for check in all_checks())


def get_office(request: Request) -> Office:
    """The application's own."""
    office: Office = request.app.state.office
    return office


Desk = Annotated[Office, Depends(get_office)]
