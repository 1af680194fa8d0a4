"""Rows of flags, eight to a byte: who has what in an eighth of the room, counted by the processor's own bit count."""

import numpy as np
import numpy.typing as npt

from openacorn.core.score.columns import Mask

Words = npt.NDArray[np.uint64]
BITS = 64
"""Rooms are multiples of this, so that a row can be read as whole words."""


def whole_words(size: int) -> int:
    """How many words hold `size` flags."""
    return -(-size // BITS)


def pack(mask: Mask) -> Words:
    """A mask as bits; those after its end are 0."""
    found = np.zeros(whole_words(len(mask)) * 8, np.uint8)
    packed = np.packbits(mask, bitorder="little")
    found[: len(packed)] = packed
    return found.view(np.uint64)


def count(bits: Words) -> int:
    """How many flags are up."""
    return int(np.bitwise_count(bits).sum(dtype=np.int64))


class BitRows:
    """`rows` rows of flags over the same positions."""

    def __init__(self, rows: int = 0) -> None:
        self._bytes = np.zeros((rows, 0), np.uint8)
        self._rows = rows

    def __len__(self) -> int:
        return self._rows

    def grow(self, room: int) -> None:
        """Make room for `room` positions, a multiple of BITS."""
        bigger = np.zeros((len(self._bytes), room // 8), np.uint8)
        bigger[:, : self._bytes.shape[1]] = self._bytes
        self._bytes = bigger

    def add_row(self) -> int:
        """A row more, with no flag up; return its number."""
        if self._rows == len(self._bytes):
            more = np.zeros((max(4, self._rows), self._bytes.shape[1]), np.uint8)
            self._bytes = np.vstack((self._bytes, more))
        self._rows += 1
        return self._rows - 1

    def put(self, at: npt.NDArray[np.int64], flags: npt.NDArray[np.bool_]) -> None:
        """Write the flags (a row for each of ours, a column a position) at positions that are all different."""
        if not len(at) or not self._rows:
            return
        rows = self._bytes[: self._rows]
        touched, byte_of = np.unique(at >> 3, return_inverse=True)
        loose = np.unpackbits(rows[:, touched], axis=1, bitorder="little")
        loose[:, byte_of * 8 + (at & 7)] = flags
        rows[:, touched] = np.packbits(loose, axis=1, bitorder="little")

    def words(self, row: int, size: int) -> Words:
        """A row as words, up to `size` flags; what lies after is 0 if nobody was put there."""
        found: Words = self._bytes[row, : whole_words(size) * 8].view(np.uint64)
        return found

    def mask(self, row: int, size: int) -> Mask:
        """A row as a mask."""
        return np.unpackbits(self._bytes[row], count=size, bitorder="little").view(np.bool_)

    def at(self, rows: slice, positions: npt.NDArray[np.int64]) -> npt.NDArray[np.uint8]:
        """The flags (0 or 1) of some rows at some positions."""
        found = self._bytes[rows][:, positions >> 3] >> (positions & 7).astype(np.uint8)
        return np.asarray(found & 1, np.uint8)

    def bytes(self, size: int) -> npt.NDArray[np.uint8]:
        """All rows up to `size` flags, to be kept in a file."""
        return self._bytes[: self._rows, : whole_words(size) * 8]

    def in_use(self) -> list[int]:
        """Numbers of the rows in which some flag is up."""
        return [int(row) for row in np.flatnonzero(self._bytes[: self._rows].any(axis=1))]

    def restore(self, kept: npt.NDArray[np.uint8]) -> None:
        """Take what `bytes` gave."""
        self._bytes, self._rows = kept, len(kept)
