"""What one running application holds: opened at its start, closed at its end."""

import asyncio
import logging
import sqlite3
from collections.abc import AsyncIterator, Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import asynccontextmanager, suppress
from functools import partial
from pathlib import Path

from openacorn.agency.backing_up import BackingUp
from openacorn.agency.leaving import Leaving
from openacorn.api.deps import AppState
from openacorn.api.metrics import Metrics
from openacorn.audit.cluster import pool_for
from openacorn.business.snapshot import Snapshot
from openacorn.collecting import keep_for_good
from openacorn.core.audit.check import check_ids
from openacorn.db.database import Database
from openacorn.db.folder import DATABASE
from openacorn.desk.deliveries import Deliveries
from openacorn.desk.exports import Exporter
from openacorn.errors import AcornError
from openacorn.gather.importer import delete_abandoned
from openacorn.gather.pages import FetchedPages
from openacorn.gather.store import places, regions
from openacorn.gather.tiles import Tiles
from openacorn.hooks.delivering import Delivering
from openacorn.lost_connections import pass_over_lost
from openacorn.outreach.owner_pages import PageOrder
from openacorn.outreach.printing import Press
from openacorn.outreach.queue import PlanCache
from openacorn.outreach.receiving import Receiving
from openacorn.outreach.replies import Senders
from openacorn.outreach.sending import Sending
from openacorn.outreach.sequencing import Moved
from openacorn.outreach.store import owner_pages
from openacorn.outreach.texting import Texting
from openacorn.outreach.views import EVERY_S, Views
from openacorn.pipeline.runs import Runs
from openacorn.privacy.keeping import Keeping
from openacorn.runs.scheduling import Scheduling
from openacorn.runs.watching import Watching
from openacorn.score.scorer import score_unscored
from openacorn.settings import Settings
from openacorn.starter.store import starter_sites
from openacorn.team.identity import Identities, note_act
from openacorn.team.passkeys import Passkeys
from openacorn.team.presence import Presence
from openacorn.team.signing_in import SigningIn

THREADS = 64
"""Of runs, deliveries and whatever else is done aside: four askers a source, and room."""

log = logging.getLogger(__name__)


def _begin_what_is_waited_for(runs: Runs, moved: Moved) -> None:
    """Begin what messages wait for: audits of websites not seen lately, owners' pages."""
    with suppress(AcornError):  # nothing to audit, or nobody to make a page for: the next step says so
        if moved.audit:
            runs.audit_again(moved.audit)
    with suppress(AcornError):
        if moved.share:
            runs.make_pages(moved.share, PageOrder(share=True))


def _fill(database: Database) -> None:
    """What ships, where the store has none of it yet; and what nobody came back for."""
    with database.write() as conn:
        places.fill_if_empty(conn)
        regions.fill_if_empty(conn)
    delete_abandoned(database)


def _warm(database: Database, snapshot: Snapshot) -> None:
    """What nobody should wait for: scores that an older version left out, the table's columns, and the collector of garbage.

    What is there by now stays for good: looking through it again and again would hold up every request by a tenth of a second.
    """
    score_unscored(database)
    snapshot.warm()
    keep_for_good()


async def _write_views(counted: Sequence[Views], database: Database) -> None:
    while True:
        await asyncio.sleep(EVERY_S)
        try:
            for views in counted:
                await asyncio.to_thread(views.write_down, database)
        except sqlite3.OperationalError:  # the disk is full: they stay counted, for the next time
            log.warning("views of owners' pages could not be written down")


def _both(tell: Callable[[int], None], keep: Callable[[], None]) -> Callable[[int], None]:
    """What is done when a run has ended."""

    def ended(run_id: int) -> None:
        tell(run_id)
        keep()

    return ended


@asynccontextmanager
async def open_app_state(
    folder: Path, settings: Settings, ports: tuple[int, int], metrics: Metrics, leaving: Leaving | None = None
) -> AsyncIterator[AppState]:
    """Open the store in `folder`, go on with what was under way, and keep the schedules; end it all on leaving."""
    asyncio.get_running_loop().set_exception_handler(pass_over_lost)
    # threads that wait for their turn to write must not keep the others from beginning
    asyncio.get_running_loop().set_default_executor(ThreadPoolExecutor(THREADS, "aside"))
    database, pool = Database(folder / DATABASE), pool_for(settings)
    runs = Runs(database, settings, pool)
    scheduling = Scheduling(database, settings, runs.start)
    keeping = Keeping(folder, database, settings)
    runs.ended = _both(scheduling.tell, keeping.after_run)
    snapshot = Snapshot(database, check_ids)
    snapshot.beside_run = runs.under_way
    exporter = Exporter(database, snapshot, settings, check_ids)
    deliveries = Deliveries(database, exporter, settings)
    scheduling.deliver, scheduling.deliver_waiting = deliveries.deliver_all, deliveries.deliver_waiting

    sending = Sending(folder, database, snapshot, settings, partial(_begin_what_is_waited_for, runs))
    receiving = Receiving(folder, database, settings)
    texting = Texting(folder, database, snapshot, settings)
    delivering = Delivering(folder, database, settings)
    backing_up = BackingUp(folder, database, settings)
    aside = (sending, receiving, texting, delivering, keeping, backing_up)
    database.note_act = note_act
    identities = Identities(database, settings)
    signing_in = SigningIn(folder, database, identities)
    state = AppState(
        folder=folder, settings=settings, database=database, runs=runs, snapshot=snapshot, scheduling=scheduling,
        exporter=exporter, deliveries=deliveries, senders=Senders(), views=Views(owner_pages.count_views),
        site_views=Views(starter_sites.count_views), press=Press(), watching=Watching(), tiles=Tiles(), pages=FetchedPages(),
        sending=sending, receiving=receiving, texting=texting, webhooks=delivering, queue_plan=PlanCache(), identities=identities,
        signing_in=signing_in, passkeys=Passkeys(database, signing_in), metrics=metrics, presence=Presence(), port=ports[0],
        owners_port=ports[1], leaving=leaving,
    )  # fmt: skip
    await asyncio.to_thread(_fill, database)
    await asyncio.to_thread(runs.recover)
    await scheduling.begin()
    warming = asyncio.create_task(asyncio.to_thread(_warm, database, snapshot))
    for part in aside:
        part.begin()
    counting = asyncio.create_task(_write_views((state.views, state.site_views), database))
    yield state
    await warming
    for part in aside:
        await part.close()
    scheduling.end()
    state.press.close()
    counting.cancel()
    await state.watching.close()
    await runs.close()
    await pool.close()
    await asyncio.to_thread(snapshot.save)
    for views in (state.views, state.site_views):
        await asyncio.to_thread(views.write_down, database)
    database.close()
