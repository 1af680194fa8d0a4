"""Fit: signs that a business can pay, as far as they are known."""

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import dataclass

STAFF_BANDS = {"1": 0.15, "2-4": 0.4, "5-9": 0.65, "10-19": 0.85, "20+": 1.0}
PRICE_BANDS = {1: 0.2, 2: 0.5, 3: 0.8, 4: 1.0}
"""Ours: evenly spread over the bands that sources use."""

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


def fit_of(reviews: int | None, peer_reviews: Sequence[float], staff_band: str, price_band: int | None) -> Fit:
    """Return the fit from review volume among peers of the trade (ascending), staff band and price band."""
    rank = percentile(reviews, peer_reviews) if reviews is not None and len(peer_reviews) >= MIN_PEERS else None
    reviews_shown = "not known" if reviews is None else f"{reviews} reviews"
    if rank is not None:
        reviews_shown += f", more than {rank:.0%} of {len(peer_reviews)} in the trade"
    staff = STAFF_BANDS.get(staff_band)
    price = PRICE_BANDS.get(price_band or 0)
    signals = (
        Signal("Review volume among peers", 2, rank, reviews_shown),
        Signal("Staff", 1, staff, staff_band or "not known"),
        Signal("Price band", 1, price, f"{price_band} of 4" if price_band else "not known"),
    )
    known = [(signal.weight, signal.value) for signal in signals if signal.value is not None]
    total = sum(weight for weight, _ in known)
    value = sum(weight * part for weight, part in known) / total if total else UNKNOWN_FIT
    return Fit(value, signals)
