"""Which businesses to show: one value for table, counts, map, angles, export and address bar."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from openacorn.core.audit.finding import Outcome
from openacorn.core.score.reach import HAS
from openacorn.errors import InvalidInput


class FilterError(InvalidInput):
    """A filter that makes no sense; the message names the field and what it may be."""

    where = "filter"
    remedy = "take that part out of the filter"


FACETS: tuple[str, ...] = (
    "trade",
    "town",
    "website",
    "offer",
    "platform",
    "stage",
    "has",
    "tag",
    "source",
    "shortlist",
    "run",
)
"""What is chosen by value, beside each check's outcome ("check.<id>")."""

MANY = frozenset({"stage", "has", "tag", "source", "shortlist", "run"})
"""Facets of which a business can have several values at once, so that two can be demanded together."""

CLOSED: Mapping[str, tuple[str, ...]] = {"website": ("none", "listed"), "has": HAS}
"""Facets with a fixed set of values."""

NUMBERED = frozenset({"shortlist", "run"})
BARRED = frozenset({"town", "tag", "platform"})
"""Facets whose values may hold a comma: they are separated by "|"."""

RANGES: tuple[str, ...] = ("score", "value", "reviews", "rating", "distance", "gaps", "reach", "fit", "audited", "seen")
"""Numbers that can be bounded. distance in metres; audited in days since the audit; seen in days since it was first seen."""

OTHERS: tuple[str, ...] = ("q", "pages", "state", "ids", "within")
"""What else a filter may say: words of a name, words on the pages, where a business is, ids, a drawn outline."""

STATES = ("held", "rejected", "relationship", "all")
"""Where a business is: held, rejected, or held back by its relationship (client, in conversation, refused); "all": anywhere."""

MUST, NEVER = "^", "!"
NOT_KNOWN = "?"
"""The value of those with none in a facet of one value: no known town, nothing to offer."""

MAX_DIGITS = 18
"""What fits into 64 bits whatever the digits are."""

MAX_CORNERS = 500


@dataclass(frozen=True, slots=True)
class Pick:
    """What is chosen of one facet: any of these will do, all of those must be, none of the last may be."""

    any: tuple[str, ...] = ()
    must: tuple[str, ...] = ()
    never: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Filter:
    """Empty fields do not restrict; between fields all must hold. ranges: (least, most), None where open.

    text: in name, town or site; pages: words that the business's pages hold; within: corners (lat, lon) of a drawn outline.
    """

    text: str = ""
    pages: str = ""
    picks: Mapping[str, Pick] = field(default_factory=dict)
    ranges: Mapping[str, tuple[float | None, float | None]] = field(default_factory=dict)
    within: tuple[tuple[float, float], ...] = ()
    state: str = "held"
    ids: tuple[int, ...] = ()


def _whole(name: str, raw: str) -> int:
    if not raw.isascii() or not raw.isdigit():
        raise FilterError(f"{name}={raw}: must be a whole number")
    if len(raw) > MAX_DIGITS:
        raise FilterError(f"{name}={raw[:MAX_DIGITS]}…: no id is that large")
    return int(raw)


def _number(name: str, raw: str) -> float | None:
    if not raw:
        return None
    try:
        value = float(raw)
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        raise FilterError(f"{name}={raw}: a range is two numbers with .. between them, either may be left out")
    return value


def separator_of(facet: str) -> str:
    """What stands between a facet's values in an address."""
    return "|" if facet in BARRED else ","


def _checked(facet: str, value: str) -> str:
    if facet in CLOSED and value not in CLOSED[facet]:
        raise FilterError(f"{facet}={value}: must be one of {', '.join(CLOSED[facet])}")
    if facet in NUMBERED:
        return str(_whole(facet, value))
    if facet.startswith("check.") and value not in list(Outcome):
        raise FilterError(f"{facet}={value}: an outcome is one of {', '.join(Outcome)}")
    return value


def _pick(facet: str, raw: str) -> Pick | None:
    found: dict[str, list[str]] = {"": [], MUST: [], NEVER: []}
    for part in raw.split(separator_of(facet)):
        mark = part[:1] if part[:1] in (MUST, NEVER) else ""
        value = part[len(mark) :].strip()
        if value:
            found[mark].append(_checked(facet, value))
    if found[MUST] and facet not in MANY:
        found[""] += found.pop(MUST)
    pick = Pick(tuple(found[""]), tuple(found.get(MUST, ())), tuple(found[NEVER]))
    return pick if pick != Pick() else None


def _range(name: str, raw: str) -> tuple[float | None, float | None]:
    low, dots, high = raw.partition("..")
    bounds = _number(name, low), _number(name, high) if dots else _number(name, low)
    if bounds[0] is not None and bounds[1] is not None and bounds[0] > bounds[1]:
        raise FilterError(f"{name}={raw}: the first number is the larger one")
    return bounds


def _corners(raw: str) -> tuple[tuple[float, float], ...]:
    corners = []
    for part in filter(None, raw.split(" ")):
        lat, _, lon = part.partition(",")
        one, two = _number("within", lat), _number("within", lon)
        if one is None or two is None:
            raise FilterError("within: corners are lat,lon with a space between them")
        corners.append((one, two))
    if corners and not 3 <= len(corners) <= MAX_CORNERS:
        raise FilterError(f"within: an outline has 3 to {MAX_CORNERS} corners")
    return tuple(corners)


def parse_filter(params: Mapping[str, str], known_checks: Sequence[str]) -> Filter:
    """Read a filter from address parameters. Raises FilterError for what it does not know.

    q, pages, state, ids, within; each of FACETS and check.<id> as values (any of them), "^value" (must), "!value" (never),
    separated by commas (towns, tags, platforms by "|"); each of RANGES as "least..most".
    """
    picks, ranges = {}, {}
    for key, raw in params.items():
        if key.startswith("check.") and key.removeprefix("check.") not in known_checks:
            raise FilterError(f"there is no check {key.removeprefix('check.')!r}")
        if key in FACETS or key.startswith("check."):
            if (pick := _pick(key, raw)) is not None:
                picks[key] = pick
        elif key in RANGES and raw.strip(". "):
            ranges[key] = _range(key, raw.strip())
    state = params.get("state") or "held"
    if state not in STATES:
        raise FilterError(f"state={state}: must be one of {', '.join(STATES)}")
    return Filter(
        text=params.get("q", "").strip(),
        pages=params.get("pages", "").strip(),
        picks=picks,
        ranges=ranges,
        within=_corners(params.get("within", "")),
        state=state,
        ids=tuple(_whole("ids", part) for part in params.get("ids", "").split(",") if part),
    )
