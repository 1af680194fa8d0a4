"""What asking a source really took in the latest run that asked it, beside what the plan of that run would have let expect."""

import sqlite3
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from openacorn.runs.store import sweeps, tasks
from openacorn.runs.store.sweeps import Plan

LEAST, MOST = 0.2, 6.0
"""A run may have been out of the ordinary: no more is learnt of one than a factor between these."""

ENOUGH = 10
"""So few questions tell nothing."""


@dataclass(frozen=True, slots=True)
class Experience:
    """requests: those made for one that was expected; rows: those answered for one business that is held of it."""

    requests: float
    rows: float


def swept(conn: sqlite3.Connection) -> list[tuple[int, Plan]]:
    """(run, plan) of the runs that carried out a plan whole, the latest first: none that was cut off on purpose, no list."""
    found = ((run.id, run.state, sweeps.plan_from_json(run.plan)) for run in sweeps.list_runs(conn))
    return [(run, plan) for run, state, plan in found if state == "done" and not plan.wanted and plan.areas]


def experience_of(
    conn: sqlite3.Connection,
    source: str,
    runs: Sequence[tuple[int, Plan]],
    held: Callable[[Plan], Mapping[str, float]],
    expected: Callable[[Plan, Mapping[str, float]], Mapping[str, int]],
) -> Experience | None:
    """What the latest run with a source teaches; None if there is none. held: businesses by trade where a plan goes."""
    for run, plan in runs:
        if source not in plan.sources or plan.most_requests or plan.most_cost:
            continue
        counts = tasks.lane_counts(conn, run)
        asked = sum(count.units for count in counts if count.lane == source)
        answered = sum(count.rows for count in counts if count.lane == source)
        known = held(plan)
        foreseen, there = expected(plan, known).get(source, 0), sum(known.values())
        if asked < ENOUGH or not foreseen or not there:
            continue
        tries = sweeps.get_run(conn, run).requests / max(1, sum(count.units for count in counts))
        factor = min(MOST, max(LEAST, asked * max(1.0, tries) / foreseen))
        return Experience(factor, answered / there)
    return None
