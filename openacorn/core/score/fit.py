"""Fit: signs that a business can pay, as far as they are known."""

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import dataclass

from openacorn.core.gather.bands import band

STAFF_BANDS = {"1": 0.15, "2-4": 0.4, "5-9": 0.65, "10-19": 0.85, "20+": 1.0}
PRICE_BANDS = {1: 0.2, 2: 0.5, 3: 0.8, 4: 1.0}
"""Ours: evenly spread over the bands that sources use."""

REVENUE = ((250_000, 0.2), (500_000, 0.4), (1_000_000, 0.65), (5_000_000, 0.85), (float("inf"), 1.0))
"""Revenue up to so much a year → ability to pay (ours: a register's usual bands, evenly spread)."""

SETTLED_YEARS = 15
"""Years of trading after which nobody doubts that a firm stays (common practice: most failures come in the first five)."""

BRANCH = 0.2
"""A branch of a chain seldom decides for itself (common practice)."""

SEEKS, QUIET = 1.0, 0.4
"""Who runs ads has a budget for being found; who runs none may have one."""

UNKNOWN_FIT = 0.5


@dataclass(frozen=True, slots=True)
class Signal:
    """One sign of ability to pay: `value` 0…1, None if not known."""

    label: str
    weight: float
    value: float | None
    shown: str


@dataclass(frozen=True, slots=True)
class Fit:
    """Weighted mean of the known signals, .5 when none is known."""

    value: float
    signals: tuple[Signal, ...]


def percentile(value: float, peers_sorted: Sequence[float]) -> float:
    """Return the mid-rank percentile of `value` among `peers_sorted` (ascending, may hold it), always inside 0…1."""
    below, upto = bisect_left(peers_sorted, value), bisect_right(peers_sorted, value)
    return ((below + upto) / 2 + 0.5) / (len(peers_sorted) + 1)


MIN_PEERS = 8


@dataclass(frozen=True, slots=True)
class Means:
    """What is known of a business's means. founded: ISO 8601 date, "" where not known; ads: does it run any?"""

    reviews: int | None = None
    staff_band: str = ""
    price_band: int | None = None
    founded: str = ""
    revenue_band: str = ""
    chain: str = ""
    ads: bool | None = None


def _years(founded: str, year: int) -> int | None:
    return max(0, year - int(founded[:4])) if founded[:4].isdigit() else None


def _revenue(text: str) -> float | None:
    found = band(text) if text else None
    if found is None:
        return None
    top = found[1] if found[1] != float("inf") else found[0] + 1
    return next(value for limit, value in REVENUE if top <= limit)


def fit_of(means: Means, peer_reviews: Sequence[float], year: int) -> Fit:
    """Return the fit from the known signs. peer_reviews: of the trade, ascending; year: the present one."""
    reviews, staff_band, price_band = means.reviews, means.staff_band, means.price_band
    rank = percentile(reviews, peer_reviews) if reviews is not None and len(peer_reviews) >= MIN_PEERS else None
    reviews_shown = "not known" if reviews is None else f"{reviews} reviews"
    if rank is not None:
        reviews_shown += f", more than {rank:.0%} of {len(peer_reviews)} in the trade"
    years = _years(means.founded, year)
    staff = STAFF_BANDS.get(staff_band)
    price = PRICE_BANDS.get(price_band or 0)
    settled = None if years is None else min(1.0, years / SETTLED_YEARS)
    branch = f"a branch of {means.chain}" if means.chain else "no other places of it are known"
    ads = None if means.ads is None else SEEKS if means.ads else QUIET
    signals = (
        Signal("Review volume among peers", 2, rank, reviews_shown),
        Signal("Staff", 1, staff, staff_band or "not known"),
        Signal("Price band", 1, price, f"{price_band} of 4" if price_band else "not known"),
        Signal("Years trading", 1, settled, f"since {means.founded[:4]}" if years is not None else "not known"),
        Signal("Revenue band", 2, _revenue(means.revenue_band), means.revenue_band or "not known"),
        Signal("Decides for itself", 1, BRANCH if means.chain else None, branch),
        Signal("Runs ads", 1, ads, {None: "not known", True: "yes", False: "no"}[means.ads]),
    )
    known = [(signal.weight, signal.value) for signal in signals if signal.value is not None]
    total = sum(weight for weight, _ in known)
    value = sum(weight * part for weight, part in known) / total if total else UNKNOWN_FIT
    return Fit(value, signals)
