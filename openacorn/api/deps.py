"""What routes are handed: the store, the runs, the table in memory."""

from dataclasses import dataclass
from pathlib import Path
from typing import Annotated

from fastapi import Depends, Request

from openacorn.agency.leaving import Leaving
from openacorn.api.metrics import Metrics
from openacorn.business.snapshot import Snapshot
from openacorn.business.store import own_trades
from openacorn.clock import now
from openacorn.core.audit.check import check_ids
from openacorn.core.desk.filters import parse_filter
from openacorn.core.trades.catalogue import Catalogue
from openacorn.db.database import Database
from openacorn.desk.deliveries import Deliveries
from openacorn.desk.exports import Exporter
from openacorn.desk.hiding import check_lists
from openacorn.gather.pages import FetchedPages
from openacorn.gather.tiles import Tiles
from openacorn.hooks.delivering import Delivering
from openacorn.net.ports import LOOPBACK
from openacorn.outreach.printing import Press
from openacorn.outreach.queue import PlanCache
from openacorn.outreach.receiving import Receiving
from openacorn.outreach.replies import Senders
from openacorn.outreach.sending import Sending
from openacorn.outreach.texting import Texting
from openacorn.outreach.views import Views
from openacorn.pipeline.runs import Runs
from openacorn.runs.scheduling import Scheduling
from openacorn.runs.watching import Watching
from openacorn.settings import Settings
from openacorn.team.identity import Identities
from openacorn.team.passkeys import Passkeys
from openacorn.team.presence import Presence
from openacorn.team.signing_in import SigningIn


@dataclass(frozen=True, slots=True)
class AppState:
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
    site_views: Views
    press: Press
    watching: Watching
    tiles: Tiles
    pages: FetchedPages
    sending: Sending
    receiving: Receiving
    texting: Texting
    webhooks: Delivering
    queue_plan: PlanCache
    identities: Identities
    signing_in: SigningIn
    passkeys: Passkeys
    metrics: Metrics
    presence: Presence
    owners_port: int
    """Port of this machine where owners' pages are."""
    port: int
    """Port of this machine where the application is."""
    leaving: Leaving | None = None
    """In the demo: the way out of it."""

    def owners_address(self, path: str) -> str:
        """Where a path behind the owners' port opens: at the public address, if the installation has one, else on this machine."""
        return self.settings.public_url(path) or f"http://{LOOPBACK}:{self.owners_port}{path}"

    def application_url(self, path: str) -> str:
        """Where a screen opens for the team: at the application's address, if it has one, else on this machine."""
        return (self.settings.application_address or f"http://{LOOPBACK}:{self.port}") + path

    def trades(self) -> Catalogue:
        """The trades there are now, the user's own among them."""
        with self.database.read() as conn:
            return own_trades.trades_there(conn)


async def get_app_state(request: Request) -> AppState:
    """The application's own. Not in a thread: it would be one more wait at every request."""
    state: AppState = request.app.state.app_state
    return state


AppDep = Annotated[AppState, Depends(get_app_state)]


def chosen_ids(state: AppState, ids: list[int], filter_params: dict[str, str] | None) -> list[int]:
    """Businesses named by id, or all that pass a filter (address parameters, as the table's page has them), best first."""
    if filter_params is None:
        return ids
    chosen = parse_filter(filter_params, check_ids())
    check_lists(state.database, chosen)
    with state.snapshot.current(exact=True) as grid:
        mask = grid.select(chosen, now().timestamp())
        return grid.order(mask, "-value", 0, int(mask.sum()))
