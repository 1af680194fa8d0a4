"""How many businesses there are, from how the sources overlap: an honest count of what is missing.

Capture–recapture. With S held, f₂ seen by exactly two sources, f₁ by exactly one and zᵢ only by source i:
N̂ = S + f₀, f₀ = A / (2 (f₂ + 1)), A = f₁² − Σ zᵢ². For two sources this is Chapman's estimator (D. G. Chapman, "Some
properties of the hypergeometric distribution with applications to zoological sample censuses", 1951); leaving out the zᵢ
keeps it from being pulled by sources of unequal reach, as the lower bound of A. Chao, "Estimating the population size for
capture–recapture data with unequal catchability", Biometrics 43 (1987), would be. The interval is the log-normal one of
that paper with Var f₀ ≈ f₀ + f₀²/(f₂ + 1) + 4 f₀² Σ zᵢ (f₁ − zᵢ)² / A².
"""

import math
from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass

Z_95 = 1.96
ASSUMPTION = (
    "if the sources list independently of each other; where they copy from one another, more is missing than this"
)


@dataclass(frozen=True, slots=True)
class Coverage:
    """`held` businesses of about `estimate`, 95 % interval `low` … `high`; None where the sources give no estimate, `why` says so.

    by_source: businesses that each source lists; only_in: businesses that no other source lists.
    """

    held: int
    estimate: float | None
    low: float | None
    high: float | None
    why: str
    by_source: dict[str, int]
    only_in: dict[str, int]


def coverage(listed_by: Iterable[frozenset[str]]) -> Coverage:
    """Estimate from, for each business held, the independent sources that list it. Businesses listed by none are passed over."""
    seen = Counter(sources for sources in listed_by if sources)
    held = sum(seen.values())
    by_source: Counter[str] = Counter()
    only_in: Counter[str] = Counter()
    for sources, count in seen.items():
        for source in sources:
            by_source[source] += count
            only_in[source] += count if len(sources) == 1 else 0
    in_two = sum(count for sources, count in seen.items() if len(sources) == 2)
    shared = sum(count for sources, count in seen.items() if len(sources) >= 2)
    result = dict(by_source), dict(only_in)
    if len(by_source) < 2:
        return Coverage(
            held, None, None, None, "one source alone tells nothing about what it leaves out; add a second one", *result
        )
    if not shared:
        return Coverage(
            held, None, None, None, "no business is in two sources, so there is no overlap to estimate from", *result
        )
    missing, spread = _missing(list(only_in.values()), in_two)
    return Coverage(held, held + missing, held + missing / spread, held + missing * spread, "", *result)


def _missing(only: list[int], in_two: int) -> tuple[float, float]:
    """(expected number that nobody lists, the factor of its 95 % interval)."""
    alone = sum(only)
    pairs = alone**2 - sum(z**2 for z in only)
    missing = pairs / (2 * (in_two + 1))
    if missing <= 0:
        return 0.0, 1.0
    variance = missing + missing**2 / (in_two + 1) + 4 * missing**2 * sum(z * (alone - z) ** 2 for z in only) / pairs**2
    return missing, math.exp(Z_95 * math.sqrt(math.log(1 + variance / missing**2)))
