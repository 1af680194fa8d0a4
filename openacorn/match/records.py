"""Listings in the form in which they are compared: each is put into it once, as long as it is made in the same way."""

import sqlite3
from collections.abc import Iterable
from hashlib import blake2b
from pathlib import Path

from openacorn import __version__
from openacorn.business.store import listings, own_trades, records
from openacorn.business.store.listings import StoredListing
from openacorn.core.match import normalise
from openacorn.core.match.cluster import likely_of
from openacorn.core.match.compare import MAX_BLOCK
from openacorn.core.match.normalise import ListingRecord, record_of
from openacorn.core.match.weights import ASK_AT
from openacorn.core.trades.catalogue import catalogue
from openacorn.db.batches import batches
from openacorn.settings import Settings

FORM = blake2b(Path(normalise.__file__).read_bytes(), digest_size=7).hexdigest()
"""Of the source that makes a record: changed, it makes another."""

AT_ONCE = 2_000
"""Listings whose neighbours are held in memory at a time."""


class ListingRecords:
    """The records of listings under one region, one set of trades and one way of making them; each is read once."""

    def __init__(self, conn: sqlite3.Connection, settings: Settings) -> None:
        self._conn, self._region = conn, settings.region
        own = tuple(own_trades.own_trades(conn))
        self._trades = catalogue(own)
        self._way = int.from_bytes(
            blake2b(repr((__version__, FORM, settings.region, own)).encode(), digest_size=7).digest()
        )
        self._known: dict[int, ListingRecord] = {}
        self._made: dict[int, ListingRecord] = {}

    def make(self, held: Iterable[StoredListing]) -> dict[int, ListingRecord]:
        """Listing → its record, made now."""
        made = {item.id: record_of(item.id, item.listing, self._region, self._trades) for item in held}
        self._known |= made
        self._made |= made
        return made

    def keep(self) -> None:
        """Keep what was made for later; the connection must be one that may write, and have read the listings itself."""
        records.put_records(self._conn, self._way, self._made.values())
        self._made = {}

    def of(self, ids: Iterable[int]) -> dict[int, ListingRecord]:
        """Listing → its record: as kept, or made now."""
        wanted = list(ids)
        self._known |= records.get_records(self._conn, self._way, [one for one in wanted if one not in self._known])
        self.make(listings.get_listings(self._conn, [one for one in wanted if one not in self._known]))
        return {one: self._known[one] for one in wanted}

    def partners(self, ids: Iterable[int]) -> set[int]:
        """`ids` and the listings that may be the same business as one of them, surely or in doubt."""
        found: set[int] = set()
        for some in batches(ids, AT_ONCE):
            met = listings.meetings(self._conn, some, MAX_BLOCK)
            alike = likely_of(self.of({listing for pair in met for listing in pair}), met, ASK_AT)
            found.update(some, *((a, b) for a, b, _ in alike))
        return found
