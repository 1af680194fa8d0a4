"""A business among its peers: the nearest of the same trade."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from openacorn.core.score.fit import MIN_PEERS, percentile

NEAREST = 25
WINDOW = 4000
"""Above so many of a trade only those next in latitude are compared: still far more than the nearest can be among."""


PRIOR_REVIEWS = 10.0
"""A rating by so many reviews counts half, the trade's mean the other half (common practice: a mean of fewer is chance)."""


def shrunk_ratings(rating: npt.NDArray[np.float64], reviews: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
    """Ratings drawn towards the mean of all, the more the fewer reviews they rest on: (k·m + n·r) ÷ (k + n).

    That is the mean of a beta posterior over ratings as shares (Gelman et al., Bayesian Data Analysis, 2.4). NaN where a rating
    is not known; without a number of reviews it counts as resting on none.
    """
    known = np.isfinite(rating)
    counts = np.where(np.isfinite(reviews), reviews, 0.0)
    weight = float(counts[known].sum())
    if weight == 0:
        mean = float(rating[known].mean()) if known.any() else np.nan
    else:
        mean = float((rating[known] * counts[known]).sum() / weight)
    return np.asarray((PRIOR_REVIEWS * mean + counts * rating) / (PRIOR_REVIEWS + counts), np.float64)


@dataclass(frozen=True, slots=True)
class PeerRank:
    """Among `peers` others (0: too few to say): the share that a value is not below, 0…1, None where it is not known. Ratings are
    compared as shrunk: five stars from two customers are not above 4.8 from two hundred."""

    peers: int
    reviews: float | None = None
    rating: float | None = None


class Neighbours:
    """All businesses of one trade. ids, lats, lons in degrees; reviews, rating NaN where not known."""

    def __init__(self, rows: Sequence[tuple[int, float, float, float | None, float | None]]) -> None:
        ordered = sorted(rows, key=lambda row: row[1])
        self._ids = [row[0] for row in ordered]
        self._at = {business: place for place, business in enumerate(self._ids)}
        table = np.array([[np.nan if v is None else float(v) for v in row[1:]] for row in ordered], np.float64)
        self._lat, self._lon, self._reviews, rating = table.T if len(ordered) else np.empty((4, 0))
        self._rating = shrunk_ratings(rating, self._reviews)

    def nearest(self, business: int) -> list[int]:
        """Ids of the nearest others, the nearest first; at most NEAREST. Distances on a plane are exact enough to rank by."""
        if business not in self._at:
            return []
        return [self._ids[place] for place in self._places(self._at[business])]

    def _places(self, here: int) -> npt.NDArray[np.int64]:
        first = max(0, here - WINDOW // 2)
        near = slice(first, here + WINDOW // 2 + 1)
        east = (self._lon[near] - self._lon[here] + 180) % 360 - 180
        away = np.hypot(self._lat[near] - self._lat[here], east * np.cos(np.radians(self._lat[here])))
        away[here - first] = np.inf
        order = np.argsort(away, kind="stable")[:NEAREST].astype(np.int64)
        found: npt.NDArray[np.int64] = order[np.isfinite(away[order])] + first
        return found

    def standing(self, business: int) -> PeerRank:
        """Where a business stands among its nearest."""
        here = self._at.get(business)
        if here is None:
            return PeerRank(0)
        places = self._places(here)
        if len(places) < MIN_PEERS:
            return PeerRank(0)
        result = []
        for values in (self._reviews, self._rating):
            others = np.sort(values[places][np.isfinite(values[places])])
            known = np.isfinite(values[here]) and len(others) >= MIN_PEERS
            result.append(percentile(float(values[here]), list(others)) if known else None)
        return PeerRank(len(places), *result)
