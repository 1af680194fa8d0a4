"""Rows of a table as listings, by the columns that the user agreed to."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from itertools import chain, islice

import orjson

from openacorn.core.gather.file_columns import RowError, checked_columns, read_row
from openacorn.core.gather.listing import Listing
from openacorn.gather.tables import headings_of
from openacorn.gather.tables.limits import SAMPLE
from openacorn.gather.tables.row import Row


@dataclass(frozen=True, slots=True)
class ReadAs:
    """columns: field → heading; source: the source of the listings; country: of their addresses, ISO 3166 or "".

    read_again: the file is a list that grows: a row is known by what it says, not by a line that others may push down.
    """

    columns: Mapping[str, str]
    source: str
    country: str
    read_again: bool = False


Good = list[tuple[str, str]]
Refused = list[tuple[int, str]]


def listings_of(rows: Iterator[Row], wanted: ReadAs, piece: int) -> Iterator[tuple[Good, Refused]]:
    """Yield (id in the file and listing as JSON, line and reason of those refused), of `piece` rows at a time.

    Raises ColumnsError before the first, if no listings can come of the columns.
    """
    headings, first = headings_of(rows, SAMPLE)
    checked = checked_columns(wanted.columns, headings)
    fields = {field: heading for field, heading in checked.items() if field != "source"}
    everything = chain(first, rows)
    while some := list(islice(everything, piece)):
        good: Good = []
        refused: Refused = []
        for row in some:
            try:
                listing = _listing(row, fields, wanted)
                good.append((listing.source_id, orjson.dumps(listing).decode()))
            except RowError as error:
                refused.append((row.line, str(error)))
        yield good, refused


def _listing(row: Row, fields: Mapping[str, str], wanted: ReadAs) -> Listing:
    if row.error:
        raise RowError(row.error)
    line = str(row.line)
    listing = read_row(row.cells, fields, wanted.source, line, wanted.country)
    if wanted.read_again and listing.source_id == line:
        return replace(listing, source_id=listing.printed_id)
    return listing
