"""Short texts to be searched and sorted by: all of them in one block of bytes, what has changed since beside it."""

from bisect import bisect_left
from collections.abc import Sequence
from itertools import groupby, pairwise
from typing import Any

import numpy as np
import numpy.typing as npt
import stringzilla

from openacorn.core.score.columns import Mask, Numbers

Positions = npt.NDArray[np.int64]
LOOSE = 4_000
"""Changed texts up to this many are searched one by one; more of them, and the block is written again first."""

CLOSE = 1e-6
"""Ranks that lie closer have no room between them: the order is made again."""


def as_held(text: str) -> bytes:
    """A text as it is held and looked for."""
    return text.lower().replace("\n", " ").encode()


class TextColumn:
    """Texts by position. Case does not matter."""

    def __init__(self) -> None:
        self._block = b""
        self._ends = np.zeros(0, np.int64)
        """Where each text of the block ends, its line break included."""
        self._changed: dict[int, bytes] = {}
        self._size = 0
        self._order: Positions | None = None
        self._ranks: Numbers = np.zeros(0)
        self._moved: set[int] = set()
        """Positions whose texts have changed since the order was made."""

    def text(self, position: int) -> bytes:
        """The text at a position."""
        changed = self._changed.get(position)
        if changed is not None:
            return changed
        start = self._ends[position - 1] if position else 0
        return self._block[start : self._ends[position] - 1]

    def put(self, positions: Sequence[int], texts: Sequence[str]) -> None:
        """Write rows; new positions follow the last one without holes."""
        size = self._size
        for position, text in zip(positions, map(as_held, texts), strict=True):
            if position < size and self.text(position) == text:
                continue
            self._changed[position] = text
            if self._order is not None:
                self._moved.add(position)
        self._size = max(size, max(positions, default=-1) + 1)
        if len(self._changed) > max(LOOSE, len(self._ends)):
            self._settle()

    def _settle(self) -> None:
        """Write the block again, with what has changed."""
        texts = [self.text(position) for position in range(self._size)]
        self._block = b"\n".join(texts) + b"\n" if texts else b""
        self._ends = np.cumsum(np.fromiter(map(len, texts), np.int64, len(texts)) + 1)
        self._changed = {}

    def holding(self, wanted: str, size: int) -> Mask:
        """Rows that hold a text."""
        needle, mask = as_held(wanted), np.zeros(size, np.bool_)
        mask[self._found(needle)] = True
        for position, text in self._changed.items():
            mask[position] = needle in text
        return mask

    def some_holding(self, wanted: str, most: int) -> Positions:
        """Positions of `most` rows at most that hold a text, those that begin with it first."""
        needle = as_held(wanted)
        block = np.concatenate((self._found(b"\n" + needle, most) + 1, self._found(needle, most)))
        found = dict.fromkeys(block.tolist())
        if self._block.startswith(needle):
            found = {0: None, **found}
        for position, text in self._changed.items():
            found.pop(position, None)
            if needle in text:
                found = {position: None, **found} if text.startswith(needle) else {**found, position: None}
        return np.fromiter(found, np.int64, len(found))[:most]

    def _found(self, needle: bytes, most: int = 2**62) -> Positions:
        """Positions in the block where bytes are found, `most` places at most."""
        if len(self._changed) > LOOSE:
            self._settle()
        block = stringzilla.Str(self._block)
        found: list[int] = []
        at = block.find(needle)
        while at != -1 and len(found) < most:
            found.append(at)
            at = block.find(needle, at + 1)
        return np.searchsorted(self._ends, found, side="right")

    # Ordering

    def ranks(self) -> Numbers:
        """Each text's place in the alphabet, the same for equals; NaN for the empty one."""
        if self._order is None or len(self._moved) > LOOSE or not self._moved_in():
            self._rank_all()
        self._moved = set()
        known = np.fromiter((bool(self._changed[at]) for at in self._changed), np.bool_, len(self._changed))
        there = np.diff(self._ends, prepend=0) > 1
        there = np.concatenate((there, np.zeros(self._size - len(there), np.bool_)))
        there[np.fromiter(self._changed, np.int64, len(self._changed))] = known
        return np.where(there, self._ranks, np.nan)

    def _rank_all(self) -> None:
        self._settle()
        texts = self._block.split(b"\n")[:-1]
        order = sorted(range(len(texts)), key=texts.__getitem__)
        self._order = np.array(order, np.int64)
        steps = [texts[one] != texts[other] for one, other in pairwise(order)]
        self._ranks = np.zeros(len(order))
        self._ranks[self._order[1:]] = np.cumsum(steps)

    def _moved_in(self) -> bool:
        """Put what has changed where it belongs; False if two ranks are too close for what comes between them."""
        if not self._moved:
            return True
        assert self._order is not None
        moved = np.zeros(self._size, np.bool_)
        moved[list(self._moved)] = True
        rest = self._order[~moved[self._order]]
        ranks = np.concatenate((self._ranks, np.zeros(self._size - len(self._ranks))))
        coming = sorted((self.text(position), position) for position in self._moved)
        places = [bisect_left(rest, text, key=self.text) for text, _ in coming]
        for place, group in groupby(zip(places, coming, strict=True), key=lambda item: item[0]):
            mine = [item for _, item in group]
            below = ranks[rest[place - 1]] if place else (ranks[rest[0]] if len(rest) else 0.0) - 1.0
            above = ranks[rest[place]] if place < len(rest) else below + 2.0
            fresh = sorted({text for text, _ in mine} - ({self.text(rest[place])} if place < len(rest) else set()))
            step = (above - below) / (len(fresh) + 1)
            if step < CLOSE:
                return False
            rank_of = {text: below + step * (at + 1) for at, text in enumerate(fresh)}
            for text, position in mine:
                ranks[position] = rank_of.get(text, above)
        self._order = np.insert(rest, places, [position for _, position in coming])
        self._ranks = ranks
        return True

    # In a file

    def parts(self) -> dict[str, npt.NDArray[Any]]:
        """What is to be kept in a file."""
        self._settle()
        return {"block": np.frombuffer(self._block, np.uint8), "ends": self._ends}

    def restore(self, block: npt.NDArray[np.uint8], ends: Positions) -> None:
        """Take what `parts` gave."""
        self._block, self._ends = block.tobytes(), ends
        self._size = len(ends)
