"""The whole coast taken into a store through the shipped connectors, for benchmarks that begin with what is held."""

import asyncio
import json
from collections.abc import Sequence
from pathlib import Path

from openacorn.core.trades.catalogue import OWN
from openacorn.db.database import Database
from openacorn.demo.agency import DIRECTORY_PLAN
from openacorn.gather.gatherer import Lane
from openacorn.gather.queries import encode_query, first_queries
from openacorn.gather.store import places, recipes
from openacorn.match.recluster import recluster_run
from openacorn.net.client import Client
from openacorn.net.pace import Pace
from openacorn.runs.store import sweeps, tasks
from openacorn.runs.store.sweeps import Plan
from openacorn.settings import Settings

AREA = {"name": "coast", "lat": -37.0, "lon": 160.0, "radius_m": 70_000.0}


def gather_coast(
    folder: Path, world: Path, settings: Settings, sources: Sequence[str], facts: Sequence[str] = ()
) -> None:
    """All trades of the coast from `sources` into `folder`; nothing is audited. `facts`: what else is asked of the sources."""
    database = Database(folder / "acorn.db")
    plan = Plan(tuple(trade.id for trade in OWN), (AREA,), tuple(sources), facts=tuple(facts))
    with database.write() as conn:
        places.replace_places(conn, json.loads((world / "places.json").read_text(encoding="utf-8")))
        recipes.insert_recipe(conn, DIRECTORY_PLAN, "now")
        run = sweeps.add_run(conn, sweeps.add_sweep(conn, "coast", sweeps.plan_to_json(plan), "now"), "now")
        for source in sources:
            first = ((query.key, encode_query(query)) for query in first_queries(conn, plan, source))
            tasks.add_tasks(conn, run, "query", first, lane=source)

    async def ask() -> None:
        async with Client(settings, allow_private=True) as client:
            lanes = [Lane(run, source, plan, database, settings, lambda: False) for source in sources]
            await asyncio.gather(*(lane.gather(client, Pace()) for lane in lanes))

    asyncio.run(ask())
    recluster_run(database, run, settings)
    database.close()
