"""What listings' own pages say, read once each in a run."""

import asyncio
from collections.abc import Callable
from dataclasses import dataclass, replace

from openacorn.core.gather.listing import Listing
from openacorn.gather.sources._source import Endpoint, Reading, Source, SourceFailure
from openacorn.net.ask import Asker

AT_ONCE = 8


@dataclass(frozen=True, slots=True)
class Completed:
    """A reading with its listings completed. unread: pages that could not be read, their listings stay as the list gave them;
    why: of the first of these."""

    reading: Reading
    unread: int = 0
    why: str = ""


class OwnPages:
    """Completes the listings of one source in one run. stop: says when no more is to be asked."""

    def __init__(self, source: Source, endpoint: Endpoint, stop: Callable[[], bool]) -> None:
        self._source, self._endpoint, self._stop = source, endpoint, stop
        self._known: dict[str, Listing | None] = {}
        self._room = asyncio.Semaphore(AT_ONCE)

    async def complete(self, asker: Asker, reading: Reading) -> Completed:
        """Read the own page of each listing that has one."""
        if not any(reading.own_pages):
            return Completed(reading)
        failures: list[SourceFailure] = []
        found = await asyncio.gather(
            *(self._one(asker, *pair, failures) for pair in zip(reading.listings, reading.own_pages, strict=True))
        )
        kept = tuple(listing for listing in found if listing is not None)
        why = str(failures[0]) if failures else ""
        completed = replace(reading, listings=kept, left_out=reading.left_out + len(found) - len(kept))
        return Completed(completed, len(failures), why)

    async def _one(self, asker: Asker, listing: Listing, page: str, failures: list[SourceFailure]) -> Listing | None:
        complete, own_page = self._source.complete, self._source.own_page
        if not page or complete is None or own_page is None or self._stop():
            return listing
        async with self._room:
            if page in self._known:
                before = self._known[page]
                return None if before is None else replace(before, rank=listing.rank)
            try:
                reply = await asker.ask(own_page(page, self._endpoint))
            except SourceFailure as failure:
                failures.append(failure)
                return listing
        self._known[page] = complete(listing, self._endpoint, reply)
        return self._known[page]
