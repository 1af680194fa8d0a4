"""Fellegi–Sunter: how much each comparison says for or against two listings being one business.

I. P. Fellegi, A. B. Sunter, "A Theory for Record Linkage", JASA 64 (1969). The m and u below are ours: m from what
directories do to names and pins, u from how often unlike businesses in one block agree by chance.
"""

import math
from dataclasses import dataclass

from rapidfuzz.distance import JaroWinkler
from rapidfuzz.fuzz import token_sort_ratio

from openacorn.core.geo.geodesy import distance_m
from openacorn.core.matching.normalise import Record

PRIOR_LOG_ODDS = math.log(0.05 / 0.95)
"""About one candidate pair in twenty is a double, in one source."""


@dataclass(frozen=True, slots=True)
class Level:
    """One outcome of a comparison: how likely among doubles (m), how likely among unlike pairs (u)."""

    m: float
    u: float

    @property
    def weight(self) -> float:
        """The log-odds it adds."""
        return math.log(self.m / self.u)


NAME = {
    "same": Level(0.62, 0.004),
    "close": Level(0.26, 0.012),
    "part": Level(0.09, 0.10),
    "unlike": Level(0.03, 0.884),
}
PHONE = {"same": Level(0.86, 0.02), "other": Level(0.14, 0.98)}
DOMAIN = {"same": Level(0.92, 0.01), "other": Level(0.08, 0.99)}
STREET = {"same": Level(0.80, 0.03), "other": Level(0.20, 0.97)}
DISTANCE = {"here": Level(0.70, 0.04), "near": Level(0.22, 0.12), "town": Level(0.07, 0.54), "far": Level(0.01, 0.30)}
HERE_M, NEAR_M, TOWN_M = 80.0, 400.0, 3000.0

MERGE_AT, ASK_AT = 0.99, 0.5


def compare_names(a: Record, b: Record) -> str:
    """Level of two names: the same words, nearly so, sharing some, or unlike."""
    if a.tokens and a.tokens == b.tokens:
        return "same"
    ratio = token_sort_ratio(" ".join(sorted(a.tokens)), " ".join(sorted(b.tokens)))
    if ratio >= 88 or JaroWinkler.similarity(a.name, b.name) >= 0.95:
        return "close"
    small, large = sorted((a.tokens, b.tokens), key=len)
    if small and small <= large:
        return "close" if len(small) > 1 else "part"
    return "part" if len(small & large) >= 2 or ratio >= 70 else "unlike"


def compare(a: Record, b: Record) -> dict[str, str]:
    """Level by field; a field that one side lacks is left out, and so says nothing."""
    levels = {"name": compare_names(a, b)}
    if a.phone and b.phone:
        levels["phone"] = "same" if a.phone == b.phone else "other"
    if a.domain and b.domain:
        levels["domain"] = "same" if a.domain == b.domain else "other"
    if a.street and b.street:
        levels["street"] = "same" if a.street == b.street else "other"
    if a.point and b.point:
        metres = distance_m(a.point, b.point)
        levels["distance"] = (
            "here" if metres <= HERE_M else "near" if metres <= NEAR_M else "town" if metres <= TOWN_M else "far"
        )
    return levels


TABLES = {"name": NAME, "phone": PHONE, "domain": DOMAIN, "street": STREET, "distance": DISTANCE}


def veto(levels: dict[str, str]) -> str | None:
    """Return why two listings cannot be one although fields agree, or None. Fields are not independent here.

    Same phone and unlike names: a shared office or answering service. Same domain with another phone and another
    street: branches of one firm.
    """
    if levels["name"] == "unlike" and levels.get("domain") != "same":
        return "unlike names"
    if levels.get("phone") == "other" and levels.get("street") == "other" and levels.get("distance") in {"town", "far"}:
        return "another branch"
    return None


def probability(a: Record, b: Record) -> float:
    """Return the probability that both are one business."""
    levels = compare(a, b)
    if veto(levels):
        return 0.0
    odds = PRIOR_LOG_ODDS + sum(TABLES[field][level].weight for field, level in levels.items())
    return 1.0 / (1.0 + math.exp(-odds))
