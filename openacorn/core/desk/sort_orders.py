"""Orders of the whole table that are kept: what has changed is moved to its new place, the rest stays as it is."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
import numpy.typing as npt

Positions = npt.NDArray[np.int32]
Keys = Sequence[npt.NDArray[Any]]
"""Columns to sort by, the first counts most; no two rows are equal in all of them."""

KEPT = 12
"""Orders that are kept; each takes 4 MB at a million businesses, twice that once few were picked out of it."""

MOST_MOVED = 4_000
"""More changed rows than this are not moved one by one: the order is made again."""


@dataclass(slots=True)
class _Order:
    ranked: Positions
    moved: list[npt.NDArray[np.int64]] = field(default_factory=list)
    """Positions that were written since."""
    places: Positions | None = None


class SortOrders:
    """Sort → all positions in that order."""

    def __init__(self) -> None:
        self._orders: dict[str, _Order] = {}

    def __len__(self) -> int:
        return len(self._orders)

    def written(self, at: npt.NDArray[np.int64]) -> None:
        """Rows were added or changed."""
        for sort, order in list(self._orders.items()):
            order.moved.append(at)
            if sum(map(len, order.moved)) > MOST_MOVED:
                del self._orders[sort]

    def ranked(self, sort: str, keys: Callable[[], Keys]) -> Positions:
        """All positions in the order of `sort`; `keys` is asked only where something changed."""
        return self._order(sort, keys).ranked

    def places(self, sort: str, keys: Callable[[], Keys]) -> Positions:
        """Each position's place in the order of `sort`."""
        order = self._order(sort, keys)
        if order.places is None:
            order.places = np.empty(len(order.ranked), np.int32)
            order.places[order.ranked] = np.arange(len(order.ranked), dtype=np.int32)
        return order.places

    def _order(self, sort: str, keys: Callable[[], Keys]) -> _Order:
        order = self._orders.pop(sort, None)
        if order is None:
            while len(self._orders) >= KEPT:
                del self._orders[next(iter(self._orders))]
            order = _Order(np.lexsort(tuple(reversed(keys()))).astype(np.int32))
        elif order.moved:
            order = _Order(_moved_in(order.ranked, np.unique(np.concatenate(order.moved)), keys()))
        self._orders[sort] = order  # the latest used stands last
        return order


def _moved_in(ranked: Positions, moved: npt.NDArray[np.int64], keys: Keys) -> Positions:
    """The order with some rows taken out and put where they belong now."""
    out = np.zeros(len(keys[0]), np.bool_)
    out[moved] = True
    rest = ranked[~out[ranked]]
    coming = moved[np.lexsort(tuple(key[moved] for key in reversed(keys)))]
    found: Positions = np.insert(rest, _places_among(rest, coming, keys), coming.astype(np.int32))
    return found


def _places_among(rest: Positions, coming: npt.NDArray[np.int64], keys: Keys) -> npt.NDArray[np.int64]:
    """Where each of the coming belongs among the rest: a binary search for all of them at once."""
    low, high = np.zeros(len(coming), np.int64), np.full(len(coming), len(rest), np.int64)
    mine = [key[coming] for key in keys]
    while (searching := low < high).any():
        middle = (low + high) // 2
        other = rest[np.minimum(middle, len(rest) - 1)]
        before, equal = np.zeros(len(coming), np.bool_), np.ones(len(coming), np.bool_)
        for key, own in zip(keys, mine, strict=True):
            theirs = key[other]
            before |= equal & (theirs < own)
            equal &= theirs == own
        low = np.where(searching & before, middle + 1, low)
        high = np.where(searching & ~before, middle, high)
    return low
