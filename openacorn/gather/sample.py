"""A free look before a run: some names that a plan would bring, by one question a source."""

import asyncio
import sqlite3
from dataclasses import dataclass
from pathlib import Path

from openacorn.business.store.listings import StoredListing
from openacorn.core.gather.listing import Listing
from openacorn.core.gather.planning import Query
from openacorn.core.geo.geodesy import Point
from openacorn.core.trades.catalogue import Catalogue
from openacorn.db.database import Database
from openacorn.gather.queries import first_queries
from openacorn.gather.reach import endpoint_of, title_of
from openacorn.gather.sources._source import Endpoint, SourceFailure, source_of
from openacorn.match.merging import trade_by_words
from openacorn.net.ask import Asker
from openacorn.net.client import Client
from openacorn.net.pace import Pace
from openacorn.runs.aside import aside
from openacorn.runs.store.sweeps import Plan
from openacorn.settings import Settings

NAMES = 12


@dataclass(frozen=True, slots=True)
class Sample:
    """What one source would bring: names in the territory and of the trade, what else it answered, or why it did not."""

    source: str
    title: str
    names: tuple[str, ...]
    others: int
    trouble: str
    remedy: str


def _kept(listing: Listing, trade: str, plan: Plan, trades: Catalogue) -> bool:
    named, sure = trade_by_words([StoredListing(0, trade, listing, "", None)], listing.name, trades)
    if listing.category and (not sure or named not in plan.trades):
        return False
    if listing.lat is None or listing.lon is None:
        return True
    return plan.territory.contains(Point(listing.lat, listing.lon))


def _prepared(conn: sqlite3.Connection, settings: Settings, source_id: str, folder: Path) -> Endpoint | SourceFailure:
    try:
        return endpoint_of(conn, settings, source_id, folder)
    except SourceFailure as failure:
        return failure


def _work(
    database: Database, settings: Settings, plan: Plan
) -> list[tuple[str, str, Endpoint | SourceFailure, list[Query]]]:
    """(source, its name, where it is, its first questions) of each source."""
    with database.read() as conn:
        folder = database.path.parent
        return [
            (
                source,
                title_of(conn, source),
                _prepared(conn, settings, source, folder),
                list(first_queries(conn, plan, source)),
            )
            for source in plan.sources
        ]


async def sample(database: Database, settings: Settings, plan: Plan) -> list[Sample]:
    """Ask each source its first question for the plan's first trade, and tell the names."""
    work = await aside(_work, database, settings, plan)

    async def one(
        asker: Asker, source_id: str, title: str, endpoint: Endpoint | SourceFailure, queries: list[Query]
    ) -> Sample:
        try:
            if isinstance(endpoint, SourceFailure):
                raise endpoint
            if not queries:
                return Sample(
                    source_id, title, (), 0, "no town is known in this area", "widen the area or choose another source"
                )
            source = source_of(source_id)
            reading = source.read(queries[0], endpoint, await asker.ask(source.ask(queries[0], endpoint)))
        except SourceFailure as failure:
            return Sample(source_id, title, (), 0, str(failure), failure.remedy)
        kept = [item.name for item in reading.listings if _kept(item, queries[0].trade, plan, endpoint.trades)]
        if not kept:
            knob = "widen the area" if not reading.listings else "choose a wider trade, or widen the area"
            return Sample(
                source_id, title, (), len(reading.listings), "nothing of this trade was found in this area", knob
            )
        return Sample(source_id, title, tuple(kept[:NAMES]), len(reading.listings) - len(kept), "", "")

    async with Client(settings, allow_private=settings.world is not None) as client:
        asker = Asker(client, Pace())
        return list(await asyncio.gather(*(one(asker, *item) for item in work)))
