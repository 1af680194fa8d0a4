"""Listings in the form in which they are compared, kept beside them; a listing whose wording changed loses its record."""

import sqlite3
from collections.abc import Iterable
from typing import Any

import orjson

from openacorn.core.match.normalise import ListingRecord

NAN = float("nan")
PUT = "INSERT OR REPLACE INTO listing_record (listing_id, way, record) VALUES (?, ?, ?)"
GET = """
SELECT listing_id, record FROM listing_record WHERE way = ? AND listing_id IN (SELECT value FROM json_each(?))
"""


def put_records(conn: sqlite3.Connection, way: int, records: Iterable[ListingRecord]) -> None:
    """Keep records; `way` says how they were made."""
    conn.executemany(PUT, ((record.key, way, orjson.dumps(record[1:]).decode()) for record in records))


def get_records(conn: sqlite3.Connection, way: int, ids: Iterable[int]) -> dict[int, ListingRecord]:
    """Listing → its record, of those that have one made in this `way`."""
    rows = conn.execute(GET, (way, orjson.dumps(list(ids)).decode()))
    return {listing_id: _record(listing_id, orjson.loads(text)) for listing_id, text in rows}


def _record(listing_id: int, values: list[Any]) -> ListingRecord:
    if values[-1] is None:  # JSON has no nan, which stands for an unknown pin
        values[-2:] = (NAN, NAN)
    return ListingRecord._make((listing_id, *values))
