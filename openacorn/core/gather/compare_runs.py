"""Two runs of a sweep set side by side: what is new, gone, changed."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

IGNORED = frozenset({"rank", "source", "source_id", "extra"})
MISSED_TO_BE_GONE = 2
"""Not seen in so many runs running by a source that saw it: gone."""


@dataclass(frozen=True, slots=True)
class Change:
    """kind: "new", "gone" or "changed"; field, before and after for what changed."""

    kind: str
    business: int
    field: str = ""
    before: Any = None
    after: Any = None


def is_gone(seen: Sequence[bool], *, closed: bool, cut_short: bool) -> bool:
    """Is a listing gone? `seen`: whether each run of its source since it was first seen saw it, oldest first.

    Never because a query was cut short: then nobody knows what was left out.
    """
    if closed:
        return True
    return not cut_short and len(seen) >= MISSED_TO_BE_GONE and not any(seen[-MISSED_TO_BE_GONE:])


def compare_runs(
    before: Mapping[int, Mapping[str, Any]], after: Mapping[int, Mapping[str, Any]], gone: frozenset[int]
) -> list[Change]:
    """Changes from one run to a later one. `before`, `after`: business → the fields it had then; `gone`: see is_gone."""
    found = [Change("new", business) for business in after if business not in before]
    found += [Change("gone", business) for business in before if business in gone and business not in after]
    for business in before.keys() & after.keys():
        old, new = before[business], after[business]
        for field in sorted((old.keys() | new.keys()) - IGNORED):
            if old.get(field) != new.get(field):
                found.append(Change("changed", business, field, old.get(field), new.get(field)))
    return found
