"""Call lists for people who call with a dialler."""

import sqlite3
from collections.abc import Iterable, Mapping

from openacorn.business.store import businesses, pipeline
from openacorn.core.outreach.call_sheet import CallSheet, Number
from openacorn.core.outreach.dialler import write_call_list
from openacorn.core.outreach.message_kind import MessageKind
from openacorn.outreach.call_sheets import sheet_of
from openacorn.outreach.message_facts import Sender, fill_in
from openacorn.outreach.owner_pages import letterhead
from openacorn.outreach.pitch import Pitch, Pitcher
from openacorn.outreach.store import owner_pages
from openacorn.outreach.template_library import all_templates
from openacorn.outreach.whereabouts import zone_of_business
from openacorn.settings import Settings


def _callable(sheet: CallSheet) -> list[Number]:
    return [number for number in sheet.numbers if not number.register]


def _cells(sheet: CallSheet, pitch: Pitch, more: Mapping[str, str]) -> dict[str, str]:
    numbers = [*_callable(sheet), None, None]
    claims = [claim.text for claim in sheet.claims]
    findings = dict(zip(("first_finding", "second_finding", "third_finding"), claims, strict=False))
    return {
        "reference": f"acorn-{sheet.id}", "number": numbers[0].value if numbers[0] else "",
        "other_number": numbers[1].value if numbers[1] else "", "line": numbers[0].line if numbers[0] else "",
        "business": sheet.name, "person": sheet.people[0].name if sheet.people else "",
        "role": sheet.people[0].role if sheet.people else "", "trade": pitch.trade, "town": sheet.town, "hours": sheet.hours,
        "language": sheet.language, "offer": sheet.offer, "opening_line": sheet.line, **findings, **more,
    }  # fmt: skip


def call_list(
    conn: sqlite3.Connection, pitcher: Pitcher, settings: Settings, calls: Iterable[pipeline.Call], columns: list[str]
) -> bytes:
    """Businesses to call now, a row each, mobiles first; nobody without a number is in it."""
    templates = [
        found.template for found in all_templates(conn).values() if found.template.kind is MessageKind.VOICEMAIL
    ]
    head, due = letterhead(conn, settings), {call.id: call for call in calls}
    tokens = owner_pages.open_tokens(conn, list(due))
    rows = []
    for row in businesses.get_businesses(conn, list(due)):
        pitch = pitcher.pitch(row, ())
        sheet = sheet_of(pitch, pitcher)
        if not _callable(sheet):
            continue
        page = settings.public_url(f"/o/{tokens[row['id']]}") if row["id"] in tokens else ""
        drafts = (
            fill_in(item, pitch, Sender(head, page=page), "") for item in templates if item.service == sheet.service
        )
        spoken = next((draft.written.text for draft in drafts if draft.written), "")
        last = pipeline.last_spoken(conn, row["id"])
        more = {
            "time_zone": zone_of_business(row, settings), "page": page, "voicemail": spoken,
            "follow_up": due[row["id"]].follow_up, "last": f"{last.at[:10]}: {last.text}" if last else "",
        }  # fmt: skip
        rows.append(_cells(sheet, pitch, more))
    rows.sort(key=lambda cells: cells["line"] != "mobile")
    return write_call_list(columns, rows)
