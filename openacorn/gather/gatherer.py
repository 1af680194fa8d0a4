"""The gathering half of a run: one lane a source, side by side, each at its own pace."""

import asyncio
import sqlite3
from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import timedelta

from openacorn.audit.auditor import audit_task_key
from openacorn.business.store import audits, businesses, listings, town_ranks
from openacorn.business.store.town_ranks import TownRank
from openacorn.clock import now, utc_now
from openacorn.core.gather.planning import CutShort, Query, is_full
from openacorn.core.team.allowance import WORDS, Allowance
from openacorn.db.database import Database
from openacorn.gather.own_pages import Completed, OwnPages
from openacorn.gather.queries import decode_query, encode_query, follow_up
from openacorn.gather.reach import endpoint_of, source_in, terms_of, title_of
from openacorn.gather.sources._source import Reading, SourceFailure, SourceReply, source_of
from openacorn.match.merging import merge_new_listings
from openacorn.net.ask import Asker, Tally
from openacorn.net.client import Client
from openacorn.net.pace import Pace
from openacorn.runs.aside import aside, together
from openacorn.runs.store import sweeps, tasks
from openacorn.runs.store.sweeps import Plan
from openacorn.runs.store.tasks import Task
from openacorn.settings import Settings, SourceSettings
from openacorn.team.allowances import run_limits

FAILURES_IN_A_ROW = 4
"""After this many failed questions on end the source is taken to be down, and the rest is left for later."""

FRESH = timedelta(days=14)
"""An audit younger than this is not made again (DESIGN: facts are claimed for 14 days)."""


class Lane:
    """One source's questions in one run. `down` is why it was given up, if it was."""

    def __init__(
        self, run_id: int, source_id: str, plan: Plan, database: Database, settings: Settings, ends: Callable[[], bool]
    ) -> None:
        self._id, self.source_id, self._plan = run_id, source_id, plan
        self._database, self._settings, self._ends = database, settings, ends
        self._source = source_of(source_id)
        self._terms = SourceSettings()
        self._answered: dict[str, set[str]] = {}
        """Question without its page → ids of all that it has brought."""
        self._failures = self._rows = 0
        self._tally = Tally()
        self._month = (0, 0.0)
        """Requests and cost of this month's runs before this lane began."""
        self.down: SourceFailure | None = None
        self.enough = False

    async def gather(self, client: Client, pace: Pace) -> None:
        """Ask until nothing is left, the run ends, or the source is down; what is left then is marked with the reason."""
        try:
            await aside(self._reach)
        except SourceFailure as failure:
            self.down = failure
        else:
            asker = Asker(client, pace, language=self._plan.language)
            await together(*(self._ask_on(asker) for _ in range(self._source.at_once)))
            self._tally = asker.tally
        await aside(self._close)

    def _reach(self) -> None:
        """Find out where the source is and what it is called. Raises SourceFailure."""
        with self._database.read() as conn:
            self._title = title_of(conn, self.source_id)
            self._source = source_in(conn, self.source_id)
            self._terms = terms_of(conn, self._settings, self.source_id)
            self._endpoint = endpoint_of(conn, self._settings, self.source_id, self._database.path.parent)
            self._month = sweeps.spent_since(conn, f"{utc_now():.7}")
            self._allowed = run_limits(conn, sweeps.begun_by(conn, self._id))
        self._own_pages = OwnPages(self._source, self._endpoint, self._ends)

    def _close(self) -> None:
        with self._database.write() as conn:
            sweeps.add_requests(
                conn, self._id, self.source_id, self._tally.requests, self._tally.retries, self._cost(self._tally)
            )
            if self.down is not None:
                tasks.fail_lane(conn, self._id, self.source_id, str(self.down), self.down.remedy)
                title = title_of(conn, self.source_id)
                sweeps.add_note(conn, self._id, utc_now(), "failed", f"{title}: {self.down}", self.down.remedy)

    async def _ask_on(self, asker: Asker) -> None:
        """Take question after question; an empty queue is the end only when nobody is asking any more."""
        while not self._ends() and self.down is None and not self.enough:
            if spent := self._spent(asker.tally):
                self.down = SourceFailure(f"stopped at your budget of {spent}", "raise the budget and resume the run")
                return
            unit = await aside(self._claim)
            if unit is None:
                if await aside(self._all_asked):
                    return
                await asyncio.sleep(0.05)
                continue
            await self._ask_one(asker, unit)

    def _cost(self, tally: Tally) -> float:
        """What the source has cost so far: a price a request, or one a row found, as its terms say."""
        return tally.requests * self._terms.cost_per_request + self._rows * self._terms.cost_per_row

    def _spent(self, tally: Tally) -> str:
        """The budget that is used up, in words, "" if none is."""
        month, cost = self._month[0] + tally.requests, self._month[1] + self._cost(tally)
        if self._settings.month_requests and month >= self._settings.month_requests:
            return f"{self._settings.month_requests:,} requests a month"
        if self._settings.month_cost and cost >= self._settings.month_cost:
            return f"{self._settings.currency} {self._settings.month_cost:,.2f} a month"
        for what, (used, most) in self._allowed.items():
            if used + (tally.requests if what is Allowance.REQUESTS else self._cost(tally)) >= most:
                words, window = WORDS[what]
                return f"{most:,.10g} {words} a {window} for the person who began this run"
        if self._plan.most_requests and tally.requests >= self._plan.most_requests:
            return f"{self._plan.most_requests:,} requests"
        if self._plan.most_cost and self._cost(tally) >= self._plan.most_cost:
            return f"{self._settings.currency} {self._plan.most_cost:,.2f}"
        return ""

    def _claim(self) -> Task | None:
        with self._database.write() as conn:
            return next(iter(tasks.claim(conn, self._id, "query", 1, lane=self.source_id)), None)

    def _all_asked(self) -> bool:
        with self._database.read() as conn:
            found = {
                count.state: count.units for count in tasks.lane_counts(conn, self._id) if count.lane == self.source_id
            }
        return not found.get("ready") and not found.get("doing")

    async def _ask_one(self, asker: Asker, unit: Task) -> None:
        query = decode_query(unit.payload)
        try:
            reply = await asker.ask(self._source.ask(query, self._endpoint))
            found = await self._own_pages.complete(asker, self._once(query, self._read(query, reply)))
        except SourceFailure as failure:
            self._failures += 1
            await aside(self._note_failure, unit, failure)
            if self._failures >= FAILURES_IN_A_ROW:
                self.down = failure
            return
        self._failures = 0
        self._rows += len(found.reading.listings)
        await aside(self._keep, unit, query, found)

    def _once(self, query: Query, reading: Reading) -> Reading:
        """A reading, marked as the last page if it brings only what the pages before brought: its paging leads nowhere."""
        question = query.key.rpartition("/")[0]
        before, ids = self._answered.setdefault(question, set()), {listing.source_id for listing in reading.listings}
        repeats = reading.more and query.page > 1 and ids <= before
        before |= ids
        return replace(reading, more=False, repeats=True) if repeats else reading

    def _read(self, query: Query, reply: SourceReply) -> Reading:
        """Read an answer; a bug in reading it fails this question alone. Raises SourceFailure."""
        try:
            return self._source.read(query, self._endpoint, reply)
        except SourceFailure:
            raise
        except Exception as error:
            why = f"its answer could not be read ({type(error).__name__}: {error})"
            raise SourceFailure(why, "this is our fault, report it to us; resume the run to try it again") from error

    def _note_failure(self, unit: Task, failure: SourceFailure) -> None:
        with self._database.write() as conn:
            tasks.fail(conn, unit.id, str(failure), failure.remedy)
            sweeps.add_note(
                conn, self._id, utc_now(), "failed", f"{self._title}, {unit.key}: {failure}", failure.remedy
            )

    def _keep(self, unit: Task, query: Query, found: Completed) -> None:
        """Store an answer, what follows from it, and that it is done, all at once."""
        reading = found.reading
        after, full, cut = follow_up(query, reading, self._source, self._plan, self._endpoint.trades)
        with self._database.write() as conn:
            put = listings.put_listings(conn, self._id, query.trade, reading.listings, utc_now())
            merged = merge_new_listings(conn, put.to_merge, self._settings) if put.to_merge else []
            if query.ranks:
                self._keep_order(conn, query, reading)
            if "website" in self._plan.facts:
                queue_audits(conn, self._id, [*merged, *put.seen_again])
            tasks.add_tasks(
                conn, self._id, "query", ((item.key, encode_query(item)) for item in after), lane=self.source_id
            )
            tasks.finish(conn, unit.id, len(reading.listings), full=full)
            if cut is not None:
                self._note_cut(conn, cut)
            self._note_reading(conn, unit, found)
            if self._plan.wanted and businesses.held_in_run(conn, self._id)[0] >= self._plan.wanted:
                self.enough = True

    def _note_reading(self, conn: sqlite3.Connection, unit: Task, found: Completed) -> None:
        """Say what of an answer was not taken."""
        reading, where = found.reading, f"{self._title}, {unit.key}"
        notes = []
        if reading.repeats:
            why = f"{where}: the answer repeats itself, so nothing after it was asked for"
            notes.append((why, "check how its recipe asks for further pages"))
        if reading.unreadable:
            notes.append((f"{where}: {reading.unreadable} rows could not be read", ""))
        if reading.left_out:
            notes.append((f"{where}: left out as no single business: {reading.left_out}", ""))
        if found.unread:
            why = f"{where}: own pages that could not be read: {found.unread} ({found.why}); these are kept as listed"
            notes.append((why, "run the sweep again to try them once more"))
        for text, remedy in notes:
            sweeps.add_note(conn, self._id, utc_now(), "failed", text, remedy)

    def _keep_order(self, conn: sqlite3.Connection, query: Query, reading: Reading) -> None:
        """The order of an answer that was asked at a town's centre; at the source's cap there may be more behind it."""
        ids = tuple(listing.source_id for listing in reading.listings)
        more = reading.more or is_full(query.seen + len(ids), self._source.cap)
        rank = TownRank(query.source, query.place, utc_now(), query.word, more, ids)
        town_ranks.insert_ranks(conn, query.trade, rank, query.seen)

    def _note_cut(self, conn: sqlite3.Connection, cut: CutShort) -> None:
        query = cut.query
        if query.tile is not None:
            where = f"near {query.tile.centre.lat:.4f}, {query.tile.centre.lon:.4f}"
            more = f"more than {self._source.cap} within {cut.side_m:.0f} m"
            remedy = "add a second source for this spot"
        else:
            where, more = f"in {query.place}", "more pages than the plan's limit"
            remedy = "raise the page limit of the recipe"
        sweeps.add_note(conn, self._id, utc_now(), "cut short", f"{self._title}: {query.trade} {where}: {more}", remedy)


def queue_audits(conn: sqlite3.Connection, run_id: int, ids: Sequence[int]) -> None:
    """Queue audits of businesses in view that have none fresh; who is marked is held back."""
    oldest = (now() - FRESH).isoformat()
    wanted = []
    audited = audits.audited_websites(conn, ids)
    for row in businesses.get_businesses(conn, ids):
        latest = audited.get(row["id"])
        if row["rejected"] or row["relationship"] or (latest and latest[0] == row["website"] and latest[1] > oldest):
            continue
        wanted.append(audit_task_key(row))
    tasks.add_tasks(conn, run_id, "audit", wanted)
