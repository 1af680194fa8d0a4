"""Much work in pieces, so that other writers have their turn in between."""

from collections.abc import Iterable, Iterator
from itertools import islice
from typing import TypeVar

T = TypeVar("T")


def batches(items: Iterable[T], size: int) -> Iterator[list[T]]:
    """Lists of up to `size` items."""
    source = iter(items)
    while batch := list(islice(source, size)):
        yield batch
