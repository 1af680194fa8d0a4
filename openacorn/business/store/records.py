"""Listings in the form in which they are compared, kept beside them; a listing whose wording changed loses its record."""

import sqlite3
from collections.abc import Iterable
from operator import attrgetter

import orjson

from openacorn.core.match.normalise import ListingRecord

FIELDS = tuple(ListingRecord.__slots__)[1:]
"""All but the key, which is the listing's id."""

PUT = "INSERT OR REPLACE INTO listing_record (listing_id, way, record) VALUES (?, ?, ?)"
GET = """
SELECT listing_id, record FROM listing_record WHERE way = ? AND listing_id IN (SELECT value FROM json_each(?))
"""
_values = attrgetter(*FIELDS)


def put_records(conn: sqlite3.Connection, way: int, records: Iterable[ListingRecord]) -> None:
    """Keep records; `way` says how they were made."""
    conn.executemany(PUT, ((record.key, way, orjson.dumps(_values(record)).decode()) for record in records))


def get_records(conn: sqlite3.Connection, way: int, ids: Iterable[int]) -> dict[int, ListingRecord]:
    """Listing → its record, of those that have one made in this `way`."""
    rows = conn.execute(GET, (way, orjson.dumps(list(ids)).decode()))
    return {listing_id: _record(listing_id, orjson.loads(text)) for listing_id, text in rows}


def _record(listing_id: int, values: list[object]) -> ListingRecord:
    *texts, lat, lon = values  # JSON has no nan, which stands for an unknown pin
    unknown = float("nan")
    return ListingRecord(listing_id, *texts, unknown if lat is None else lat, unknown if lon is None else lon)  # type: ignore[arg-type,call-arg]
