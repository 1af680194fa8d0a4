"""Work lists on paper: call sheets and a list's members, with the parts that the user wants."""

from collections.abc import Mapping, Sequence
from typing import Any

from openacorn.core.outreach.call_sheet import CallSheet
from openacorn.core.report.letterhead import Letterhead
from openacorn.core.report.render import render_page

SHEET_PARTS: dict[str, str] = {
    "people": "Who to ask for",
    "offer": "Offer and opening line",
    "claims": "What to say",
    "peers": "Others nearby",
    "objections": "If they say",
    "result": "Room for the result",
}
"""Parts of a call sheet, besides the name and the numbers."""

LIST_COLUMNS: dict[str, str] = {
    "phone": "Phone",
    "town": "Town",
    "stage": "Stage",
    "offer": "Offer",
    "value": "Worth",
    "owner": "Colleague",
    "follow_up": "Follow up",
    "last_text": "Last",
    "notes": "Notes",
}
"""Columns of a printed list, besides the name. Notes: left empty, to be written by hand."""


def call_sheets(
    head: Letterhead, sheets: Sequence[CallSheet], *, left: int = 0, parts: frozenset[str] = frozenset(SHEET_PARTS)
) -> str:
    """Call sheets to be printed, a page each. left: how many more are to be called than are here."""
    return render_page("call_sheets.html", "call_sheets.css", head, sheets=sheets, left=left, parts=parts)


def printed_list(
    head: Letterhead, name: str, day: str, rows: Sequence[Mapping[str, Any]], columns: Sequence[str], *, left: int = 0
) -> str:
    """A list to be printed as a table. left: how many more there are than rows."""
    titles = {column: LIST_COLUMNS[column] for column in LIST_COLUMNS if column in columns}
    return render_page("list.html", "list.css", head, name=name, day=day, rows=rows, titles=titles, left=left)
