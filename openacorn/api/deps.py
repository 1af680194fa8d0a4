"""What routes are handed: the store, the runs, the table in memory."""

import time
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Annotated

from fastapi import Depends, Request

from openacorn.core.audit.check import all_checks
from openacorn.core.filters import parse_filter
from openacorn.core.trades.catalogue import Catalogue
from openacorn.jobs.delivering import Deliveries
from openacorn.jobs.exporting import Exporter
from openacorn.jobs.printing import Press
from openacorn.jobs.replying import Senders
from openacorn.jobs.runs import Runs
from openacorn.jobs.scheduling import Scheduling
from openacorn.jobs.views import Views
from openacorn.jobs.watching import Watching
from openacorn.settings import Settings
from openacorn.store import own_trades
from openacorn.store.db import Database
from openacorn.store.snapshot import Snapshot

LOOPBACK = "127.0.0.1"


@dataclass(frozen=True, slots=True)
class Office:
    """Everything one running application holds."""

    folder: Path
    settings: Settings
    database: Database
    runs: Runs
    snapshot: Snapshot
    scheduling: Scheduling
    exporter: Exporter
    deliveries: Deliveries
    senders: Senders
    views: Views
    press: Press
    watching: Watching
    owners_port: int
    """Port of this machine where owners' pages are."""

    def trades(self) -> Catalogue:
        """The trades there are now, the user's own among them."""
        with self.database.read() as conn:
            return own_trades.trades_there(conn)


@cache
def check_ids() -> tuple[str, ...]:
    """Ids of all checks, in the order of the audit strip."""
    return tuple(check.id for check in all_checks())


async def get_office(request: Request) -> Office:
    """The application's own. Not in a thread: it would be one more wait at every request."""
    office: Office = request.app.state.office
    return office


Desk = Annotated[Office, Depends(get_office)]


def chosen_ids(desk: Office, ids: list[int], filter_params: dict[str, str] | None) -> list[int]:
    """Businesses named by id, or all that pass a filter (address parameters, as the table's page has them), best first."""
    if filter_params is None:
        return ids
    chosen = parse_filter(filter_params, check_ids())
    with desk.snapshot.current(exact=True) as grid:
        mask = grid.select(chosen, time.time())
        return grid.order(mask, "-value", 0, int(mask.sum()))
