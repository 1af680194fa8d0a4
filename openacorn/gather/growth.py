"""How a sweep has grown over all its runs."""

import sqlite3
from dataclasses import dataclass

from openacorn.gather.coverage import compare
from openacorn.gather.store import comparisons
from openacorn.runs.store import sweeps


@dataclass(frozen=True, slots=True)
class RunGrowth:
    """One finished run: businesses it saw in view, of these new since the run before, gone since then, and known so far."""

    run: int
    at: str
    seen: int
    new: int
    gone: int
    changed: int
    so_far: int


def growth(conn: sqlite3.Connection, sweep_id: int) -> list[RunGrowth]:
    """Every finished run of a sweep, oldest first. Raises NotFound."""
    sweeps.get_plan(conn, sweep_id)
    runs = [run for run in reversed(sweeps.list_runs(conn)) if run.sweep_id == sweep_id and run.state == "done"]
    known: set[int] = set()
    found: list[RunGrowth] = []
    for run in runs:
        seen = set(comparisons.businesses_seen(conn, run.id))
        changes = compare(conn, found[-1].run, run.id) if found else []
        counts = {kind: len({c.business for c in changes if c.kind == kind}) for kind in ("gone", "changed")}
        new = len(seen - known)
        known |= seen
        found.append(
            RunGrowth(
                run.id, run.ended_at or run.started_at, len(seen), new, counts["gone"], counts["changed"], len(known)
            )
        )
    return found
