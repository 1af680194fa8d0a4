"""How often a check's gaps were right on pages of the real web, and which of them an owner may be shown.

`measured.tsv` is written by `python -m tests.wild.measure` out of pages that nobody here wrote, beside other readers' answers.
"""

from functools import cache

from openacorn.core.audit.tables import rows_of

TABLE = "measured.tsv"
LEAST_PRECISION = 0.995
ENOUGH = 50
"""Fewer gaps do not measure a precision; such checks are judged by their evidence."""


@cache
def precisions() -> dict[str, float]:
    """Check → share of its gaps that were right, of those that were measured often enough."""
    rows = [(row["check"], int(row["gaps"]), int(row["false_gaps"])) for row in rows_of(__package__, TABLE)]
    return {check: 1 - wrong / gaps for check, gaps, wrong in rows if gaps >= ENOUGH}


def too_often_wrong(check: str) -> bool:
    """Return whether a check was measured, and its gaps were right too seldom to be shown."""
    return precisions().get(check, 1.0) < LEAST_PRECISION
