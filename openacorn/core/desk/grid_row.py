"""One business as the grid holds it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from openacorn.core.audit.finding import Outcome
from openacorn.core.desk.filters import NOT_KNOWN

NUMBERS = ("score", "value", "reviews", "rating", "distance", "audited", "gaps", "reach", "fit", "seen", "lat", "lon")
"""Numeric columns; NaN where not known. `audited` and `seen` in seconds since 1970, `gaps`: checks that found one."""

CATEGORIES = ("trade", "town", "website", "offer", "platform")
GROUPS = ("stage", "has", "tag", "source", "shortlist", "run")


@dataclass(frozen=True, slots=True)
class GridRow:
    """One business as the grid holds it. outcomes: check id → outcome; groups: facet → values (of GROUPS)."""

    id: int
    name: str
    trade: str
    town: str
    website: str
    offer: str
    state: str
    """One of core.filters.STATES, without "all"."""
    numbers: Mapping[str, float | None]
    outcomes: Mapping[str, Outcome]
    groups: Mapping[str, Sequence[str]] = field(default_factory=dict)
    platform: str = ""


def category_of(row: GridRow, name: str) -> str:
    """The row's value in a column of CATEGORIES, NOT_KNOWN where it has none."""
    if name == "website":
        return "listed" if row.website else "none"
    return str(getattr(row, name)) or NOT_KNOWN
