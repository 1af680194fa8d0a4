"""What asking a source really took in the latest run that asked it, beside what the plan of that run would have let expect."""

import sqlite3
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from openacorn.core.gather.foresight import Work
from openacorn.runs.store import sweeps, tasks
from openacorn.runs.store.sweeps import Plan

LEAST, MOST = 0.2, 6.0
"""A run may have been out of the ordinary: no more is learnt of one than a factor between these."""

STEPS = 3
"""After so many the share moves no more."""

Foreseen = Callable[[Plan, Mapping[str, float], str], Work]
"""What a source takes for a plan that finds so many rows of each trade there."""

DOUBT = 4.0
"""So many questions, or businesses, as expected are added to what was seen: a small run teaches little."""


@dataclass(frozen=True, slots=True)
class Experience:
    """requests: those made for one that was expected; share: rows that the source holds for one business that is held."""

    requests: float
    share: float


def swept(conn: sqlite3.Connection) -> list[tuple[int, Plan]]:
    """(run, plan) of the runs that carried out a plan whole, the latest first: none that was cut off on purpose, no list."""
    found = ((run.id, run.state, sweeps.plan_from_json(run.plan)) for run in sweeps.list_runs(conn))
    return [(run, plan) for run, state, plan in found if state == "done" and not plan.wanted and plan.areas]


def experience_of(
    conn: sqlite3.Connection,
    source: str,
    runs: Sequence[tuple[int, Plan]],
    held: Callable[[Plan], Mapping[str, float]],
    work: Foreseen,
) -> Experience | None:
    """What the latest run with a source teaches; None if there is none. held: businesses by trade where a plan goes;
    work: what a source takes for a plan where it has so many rows.
    """
    for run, plan in runs:
        if source not in plan.sources or plan.most_requests or plan.most_cost:
            continue
        counts = tasks.lane_counts(conn, run)
        asked = sum(count.units for count in counts if count.lane == source)
        answered = sum(count.rows for count in counts if count.lane == source)
        known = held(plan)
        if not asked:
            continue
        share = _share(plan, known, source, answered, work)
        foreseen = work(plan, {trade: count * share for trade, count in known.items()}, source).requests
        tries = sweeps.get_run(conn, run).requests / max(1, sum(count.units for count in counts))
        factor = (asked * max(1.0, tries) + DOUBT) / (foreseen + DOUBT)
        return Experience(min(MOST, max(LEAST, factor)), share)
    return None


def _share(plan: Plan, known: Mapping[str, float], source: str, answered: int, work: Foreseen) -> float:
    """Rows that the source holds for one business: such that the answers of the run would have come.

    Searched in a few steps, as what lies beyond a cap does not come.
    """
    share = 1.0
    for _ in range(STEPS):
        rows = work(plan, {trade: count * share for trade, count in known.items()}, source).rows
        share = min(MOST, max(LEAST, share * (answered + DOUBT) / (rows + DOUBT)))
    return share
