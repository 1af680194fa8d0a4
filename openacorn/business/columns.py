"""The registry of a business's columns: what each is called, how it is read, and where it is shown.

A new column is one entry here (and, if it is stored, one migration): the API, the table, its column menu, exports and their
choices all read this list.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

import orjson

from openacorn.core.audit.check import check_ids
from openacorn.core.audit.finding import Outcome

Cell = str | int | float | None
Groups = Mapping[str, list[str]]
Row = Mapping[str, Any]


class Kind(StrEnum):
    """How a cell is written."""

    TEXT = "text"
    COUNT = "count"
    NUMBER = "number"
    SHARE = "share"
    MONEY = "money"
    DISTANCE = "distance"
    DAY = "day"
    PHONE = "phone"


class Export(StrEnum):
    """Is it in files?"""

    NEVER = "never"
    CHOSEN = "chosen"
    USUAL = "usual"


@dataclass(frozen=True, slots=True)
class BusinessColumn:
    """id: its name in the API and in files; heading: over it in the table; file: its heading in files, the id if "".

    read: the cell from the wide row (with the columns of it that `needs` names) and what the business belongs to; None: the
    row's own column of that name. table: can the user choose it; usual: is it sent with every page, chosen or not.
    sort: the grid's column to order by, "" for none. width: CSS pixels in the table.
    """

    id: str
    heading: str = ""
    kind: Kind = Kind.TEXT
    file: str = ""
    export: Export = Export.NEVER
    table: bool = False
    usual: bool = False
    sort: str = ""
    width: int = 100
    needs: tuple[str, ...] = ()
    read: Callable[[Row, Groups], Cell] | None = None

    def cell(self, row: Row, groups: Groups) -> Cell:
        """Its value for one business."""
        if self.read is None:
            value: Cell = row[self.id]
            return value
        return self.read(row, groups)


STRIP = {"gap": "g", "partial": "p", "ok": "o", "not applicable": "n", "unknown": "u"}


def strip_of(outcomes: str) -> str:
    """One letter a check, in the order of the audit strip; "-" where it was not asked."""
    known = orjson.loads(outcomes)
    return "".join(STRIP.get(known.get(check), "-") for check in check_ids())


def _listed(group: str, none: str = "") -> Callable[[Row, Groups], Cell]:
    return lambda _, groups: ", ".join(groups.get(group, [none] if none else ()))


def _gaps(row: Row, _: Groups) -> int:
    return sum(outcome == Outcome.GAP for outcome in orjson.loads(row["outcomes"]).values())


C, USUAL, CHOSEN = BusinessColumn, Export.USUAL, Export.CHOSEN
COLUMNS: tuple[BusinessColumn, ...] = (
    C("id", export=USUAL, usual=True),
    C("name", "Name", export=USUAL, usual=True, sort="name"),
    C("trade", "Trade", export=USUAL, usual=True, sort="trade"),
    C("town", "Town", export=USUAL, usual=True, sort="town"),
    C("distance_m", "Away", Kind.DISTANCE, usual=True, sort="distance"),
    C("website", "Website", export=USUAL, usual=True, sort="website"),
    C("rating", "Rating", Kind.NUMBER, export=USUAL, usual=True, sort="rating"),
    C("reviews", "Reviews", Kind.COUNT, export=USUAL, usual=True, sort="reviews"),
    C("offer", "Best offer", file="best offer", export=USUAL, usual=True, sort="offer"),
    C("score", "Score", Kind.NUMBER, export=USUAL, usual=True, sort="score"),
    C("value", "Value", Kind.MONEY, file="expected value", export=USUAL, usual=True, sort="value"),
    C("reach", "Reach", Kind.SHARE, usual=True, sort="reach"),
    C("fit", "Fit", Kind.SHARE, sort="fit"),
    C("audited_at", "Audited", Kind.DAY, file="audited at", export=USUAL, usual=True, sort="audited"),
    C("rejected", "Rejected", export=USUAL, usual=True),
    C("strip", "Audit", usual=True, sort="gaps", needs=("outcomes",), read=lambda row, _: strip_of(row["outcomes"])),
    C("shortlists", usual=True, needs=("id",), read=lambda _, groups: len(groups.get("shortlist", ()))),
    C("pictured", usual=True, needs=("id",), read=lambda _, groups: next(iter(groups.get("pictured", ())), "")),
    C("gaps", "Gaps", Kind.COUNT, sort="gaps", needs=("outcomes",), read=_gaps),
    C("first_seen", "First seen", Kind.DAY, file="first seen", export=CHOSEN, sort="seen"),
    C("phone", "Phone", Kind.PHONE, export=USUAL, table=True, usual=True, width=104),
    C("has", "Ways to reach them", file="ways to reach them", export=CHOSEN, table=True, width=140, needs=("channels",),
      read=lambda row, _: ", ".join(orjson.loads(row["channels"]))),
    C("stage", "Stage", export=CHOSEN, table=True, usual=True, width=74, needs=("id",), read=_listed("stage", "new")),
    C("tags", "Tags", export=CHOSEN, table=True, usual=True, width=90, needs=("id",), read=_listed("tag")),
    C("platform", "Made with", file="made with", export=CHOSEN, table=True, sort="platform", width=92),
    C("street", "Street", export=USUAL, table=True, width=130),
    C("postcode", "Postcode", export=USUAL, table=True, width=66),
    C("category", "Category", export=CHOSEN, table=True, width=110),
    C("chain", "Chain", export=CHOSEN, table=True),
    C("founded", "Founded", export=CHOSEN, table=True, width=78),
    C("revenue_band", "Revenue", file="revenue band", export=CHOSEN, table=True, width=84),
    C("staff_band", "Staff", file="staff", export=CHOSEN, table=True, width=52),
    C("sources", "Sources", Kind.COUNT, export=CHOSEN, table=True, width=58, needs=("sources",),
      read=lambda row, _: len(orjson.loads(row["sources"]))),
    C("relationship", "Relationship", file="relationship", export=CHOSEN, table=True, width=92),
    C("hours", "Hours", export=CHOSEN), C("email"), C("price_band"),
    C("lat", "Latitude", Kind.NUMBER, file="latitude", export=USUAL),
    C("lon", "Longitude", Kind.NUMBER, file="longitude", export=USUAL),
    C("emails", "E-mail addresses", file="e-mail addresses", export=USUAL, needs=("id",), read=lambda *_: None),
    C("person", "Person", export=CHOSEN, needs=("id",), read=lambda *_: None),
    C("notes", "Notes", export=CHOSEN, needs=("id",), read=lambda *_: None),
)  # fmt: skip
"""Every column. The last three are read by the export that wants them, a business at a time: they are no part of a page."""

FILE_ONLY = frozenset({"emails", "person", "notes", "lat", "lon"})
BY_ID = {column.id: column for column in COLUMNS}
PAGE_COLUMNS = tuple(column.id for column in COLUMNS if column.id not in FILE_ONLY)
USUAL_COLUMNS = tuple(column.id for column in COLUMNS if column.usual)
STORED_IN_ROW = tuple(
    dict.fromkeys(
        name for id_ in PAGE_COLUMNS for name in (BY_ID[id_].needs or ((id_,) if not BY_ID[id_].read else ()))
    )
)
"""Columns of the wide row that a page is made of."""
