"""Call lists for whoever calls with a dialler, and the results that it gives back."""

import sqlite3
import tempfile
from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

from openacorn.business.store import action_log, businesses, pipeline
from openacorn.clock import now, utc_now
from openacorn.core.audit.extract.phones import parse_phone
from openacorn.core.outreach.call_sheet import CallSheet, Number
from openacorn.core.outreach.dialler import FIELDS, guess_fields, guess_result, write_call_list
from openacorn.core.outreach.message_kind import MessageKind
from openacorn.core.outreach.results import RESULTS
from openacorn.errors import InvalidInput
from openacorn.gather.tables import Row, headings_of
from openacorn.gather.tables.child import read_rows
from openacorn.outreach.call_sheets import sheet_of
from openacorn.outreach.message_facts import Sender, fill_in
from openacorn.outreach.owner_pages import letterhead
from openacorn.outreach.pitch import Pitch, Pitcher
from openacorn.outreach.results import ContactReport, apply_result
from openacorn.outreach.store import call_lists, owner_pages
from openacorn.outreach.template_library import all_templates
from openacorn.outreach.whereabouts import zone_of_business
from openacorn.score import win_model
from openacorn.score.scorer import Scorer
from openacorn.settings import Settings

MOST_ROWS = 20_000


class CallResultsError(InvalidInput):
    """A file of results that cannot be read; the message says why."""

    where = "file"
    remedy = "choose the columns, or save the file as CSV"


@dataclass(frozen=True, slots=True)
class ReadResults:
    """A dialler's file as read. fields: what is read → its heading; words: its words for results → how often; meanings: word → our
    result, "" for none; noted, skipped: rows that were noted, and why others were not."""

    headings: list[str]
    fields: dict[str, str]
    words: dict[str, int]
    meanings: dict[str, str]
    noted: int
    skipped: dict[str, int]


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
    """Whom to call now, a row each, mobiles first; nobody without a number is in it."""
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


def table_of(name: str, content: bytes) -> tuple[list[str], list[Row]]:
    """(headings, rows) of a file of any kind, read in a process of its own. Raises FileError."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "results"
        path.write_bytes(content)
        return headings_of(read_rows(path, name), MOST_ROWS)


def read_results(
    conn: sqlite3.Connection, settings: Settings, table: tuple[list[str], list[Row]], *,
    fields: Mapping[str, str], meanings: Mapping[str, str], by: str, keep: bool,
) -> ReadResults:  # fmt: skip
    """Read a dialler's results. fields, meanings: as the user chose, over what is guessed; keep: note them (else only show).

    Raises CallResultsError.
    """
    headings, rows = table
    chosen = {field: heading for field, heading in (guess_fields(headings) | dict(fields)).items() if heading}
    if strange := [heading for heading in chosen.values() if heading not in headings]:
        raise CallResultsError(f"there is no column {strange[0]!r} in the file")
    if not {"reference", "number"} & set(chosen) or "result" not in chosen:
        raise CallResultsError("choose the column of the result, and that of the reference or the number")
    words = Counter(word for row in rows if (word := row.cells.get(chosen["result"], "").strip()))
    meant = {word: meanings.get(word, guess_result(word)) for word in words}
    if wrong := [result for result in meant.values() if result and result not in RESULTS]:
        raise CallResultsError(f"there is no result {wrong[0]!r}; choose from {', '.join(RESULTS)}")
    reader = _Reader(conn, settings, chosen, meant, by)
    noted, skipped = reader.read(rows, keep=keep)
    shown = {field: chosen.get(field, "") for field in FIELDS}
    return ReadResults(headings, shown, dict(words.most_common()), meant, noted, dict(skipped.most_common()))


class _Reader:
    def __init__(
        self,
        conn: sqlite3.Connection,
        settings: Settings,
        fields: Mapping[str, str],
        meanings: Mapping[str, str],
        by: str,
    ) -> None:
        self._conn, self._settings, self._fields, self._meanings, self._by = conn, settings, fields, meanings, by
        self._numbers, self._scorer = call_lists.find_by_numbers(conn), Scorer(conn)

    def read(self, rows: list[Row], *, keep: bool) -> tuple[int, Counter[str]]:
        skipped: Counter[str] = Counter()
        noted = 0
        for row in rows:
            cells = {field: row.cells.get(heading, "").strip() for field, heading in self._fields.items()}
            why = row.error or self._note(cells, keep=keep)
            noted += not why
            if why:
                skipped[why] += 1
        if keep and noted:
            win_model.learn(self._conn)
        return noted, skipped

    def _business(self, cells: Mapping[str, str]) -> dict[str, Any] | None:
        reference = cells.get("reference", "").removeprefix("acorn-")
        number = parse_phone(cells["number"], self._settings.region) if cells.get("number") else None
        wanted = int(reference) if reference.isdecimal() and len(reference) < 10 else self._numbers.get(number or "", 0)
        found = businesses.get_businesses(self._conn, [wanted]) if wanted else []
        return found[0] if found else None

    def _note(self, cells: Mapping[str, str], *, keep: bool) -> str:
        """Note one row, or say why not."""
        word = cells.get("result", "")
        result = self._meanings.get(word, "")
        if not result:
            return f"no result is chosen for “{word}”" if word else "it has no result"
        row = self._business(cells)
        if row is None:
            return "no business has this reference or number"
        if row["standing"] == "refused" and result != "refused":
            return "the business asked not to be contacted"
        at = _moment(cells.get("at", ""))
        day = cells.get("follow_up", "")[:10]
        if result == "call back" and not _is_day(day):
            day = (now() + timedelta(days=1)).date().isoformat()
        if not keep:
            return ""
        if at and not call_lists.note_read(self._conn, row["id"], at, result):
            return "it was read before"
        report = ContactReport(result, note=cells.get("note", ""), follow_up=day if _is_day(day) else "", by=self._by)
        text, undo = apply_result(self._conn, row["id"], report, at or utc_now(), self._settings, self._scorer)
        action_log.insert_action(self._conn, utc_now(), text, undo)
        return ""


def _is_day(text: str) -> bool:
    try:
        datetime.strptime(text, "%Y-%m-%d")
    except ValueError:
        return False
    return True


def _moment(text: str) -> str:
    """A moment as the store has them, "" for what is none or lies ahead (ISO 8601; without a zone: this machine's)."""
    try:
        moment = datetime.fromisoformat(text.replace("Z", "+00:00"))
    except ValueError:
        return ""
    moment = moment.astimezone()
    return "" if moment > now() else moment.astimezone(now().tzinfo).isoformat(timespec="seconds")
