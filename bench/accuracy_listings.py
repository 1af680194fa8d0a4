"""How right the checks on reputation are: the whole coast gathered, judged, and held against the truth of its listings."""

from collections import defaultdict
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import orjson

from bench.accuracy import Tally
from bench.coast import gather_coast
from openacorn.audit.reputation import ReputationAuditor
from openacorn.db.database import Database
from openacorn.settings import Settings
from openacorn.sim.listing_truth import reputation_truth
from openacorn.sim.sources import world_sources

SOURCES = ("listing_service", "social_pages")
OWNERS = """
SELECT business_id, source, source_id, outcomes FROM listing JOIN business ON business.id = business_id WHERE rejected = ''
"""


def measure_listings(world: Path, settings: Settings, folder: Path) -> dict[str, dict[str, Any]]:
    """Gather and judge; return check → figures, over the businesses whose listings are about nobody else."""
    assert settings.world is not None
    asking = settings.model_copy(update={"sources": world_sources(settings.world)})
    gather_coast(folder, world, asking, SOURCES, facts=("rank",))
    database = Database(folder / "acorn.db")
    with database.write() as conn:
        ids = [row[0] for row in conn.execute("SELECT id FROM business WHERE rejected = ''")]
        ReputationAuditor(conn).judge(ids)
    owners = orjson.loads((world / "truth.json").read_bytes())["listing_owner"]
    about: dict[int, set[Any]] = defaultdict(set)
    stated: dict[int, dict[str, str]] = {}
    with database.read() as conn:
        for business, source, listing, outcomes in conn.execute(OWNERS):
            about[business].add(owners[source][listing])
            stated[business] = orjson.loads(outcomes)
    database.close()
    truth = reputation_truth(world, datetime.now(UTC).date())
    tallies: dict[str, Tally] = defaultdict(Tally)
    for business, whose in about.items():
        (owner, *others) = whose
        for check, answer in {} if others else truth.get(owner, {}).items():
            tallies[check].add(stated[business].get(check, "unknown"), answer.outcome, answer.decidable, f"{owner}")
    return {check: tallies[check].figures() for check in sorted(tallies)}
