"""Results that another tool gives back: a dialler, a mailer, a CRM. Its columns and words are mapped once, and remembered."""

import re
import sqlite3
import tempfile
from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cached_property
from pathlib import Path
from typing import Any

from openacorn.business.store import action_log, businesses, pipeline
from openacorn.clock import now, utc_now
from openacorn.core.audit.extract.phone_numbers import parse_phone
from openacorn.core.outreach.dialler import BOUNCED, FIELDS, KEYS, guess_fields, guess_result
from openacorn.core.outreach.results import RESULTS
from openacorn.errors import InvalidInput
from openacorn.gather.tables import Row, headings_of
from openacorn.gather.tables.child import read_rows
from openacorn.outreach.results import ContactReport, apply_result
from openacorn.outreach.sending import note_dead
from openacorn.outreach.store import call_lists
from openacorn.outreach.store.call_lists import ReadBefore
from openacorn.score import win_model
from openacorn.score.scorer import Scorer
from openacorn.settings import Settings

MOST_ROWS = 20_000


class ResultFileError(InvalidInput):
    """A file of results that cannot be read; the message says why."""

    where = "file"
    remedy = "choose the columns, or save the file as CSV"


@dataclass(frozen=True, slots=True)
class ReadResults:
    """A file as read. fields: what is read → its heading; words: its words for results → how often; meanings: word → our result, ""
    for none; channel: by what the businesses were contacted; noted, skipped: rows that were noted, and why others were not;
    lacks: what must be chosen first, "" if nothing."""

    headings: list[str]
    fields: dict[str, str]
    words: dict[str, int]
    meanings: dict[str, str]
    channel: str
    noted: int
    skipped: dict[str, int]
    lacks: str = ""


def table_of(name: str, content: bytes) -> tuple[list[str], list[Row]]:
    """(headings, rows) of a file of any kind, read in a process of its own. Raises FileError."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "results"
        path.write_bytes(content)
        return headings_of(read_rows(path, name), MOST_ROWS)


def read_results(
    conn: sqlite3.Connection, settings: Settings, table: tuple[list[str], list[Row]], *,
    fields: Mapping[str, str], meanings: Mapping[str, str], channel: str, by: str, keep: bool,
) -> ReadResults:  # fmt: skip
    """Read another tool's results. fields, meanings, channel: as the user chose, over how such a file was read last, over what is
    guessed; keep: note them (else only show).

    Raises ResultFileError.
    """
    headings, rows = table
    before = call_lists.remembered(conn, headings) or ReadBefore({}, {}, "call")
    read_as = {**guess_fields(headings), **before.fields, **fields}
    chosen = {field: heading for field, heading in read_as.items() if heading}
    if strange := [heading for heading in chosen.values() if heading not in headings]:
        raise ResultFileError(f"there is no column {strange[0]!r} in the file")
    by_what, shown = channel or before.channel, {field: chosen.get(field, "") for field in FIELDS}
    if not KEYS & set(chosen) or "result" not in chosen:
        lacks = "choose the column of the result, and that of the reference, the number or the e-mail address"
        if keep:
            raise ResultFileError(lacks)
        return ReadResults(headings, shown, {}, {}, by_what, 0, {}, lacks)
    words = Counter(word for row in rows if (word := row.cells.get(chosen["result"], "").strip()))
    meant = {word: {**before.meanings, **meanings}.get(word, guess_result(word)) for word in words}
    if wrong := [result for result in meant.values() if result not in {"", BOUNCED, *RESULTS}]:
        raise ResultFileError(f"there is no result {wrong[0]!r}; choose from {', '.join(RESULTS)}")
    noted, skipped = _Reader(conn, settings, chosen, meant, by_what, by).read(rows, keep=keep)
    if keep:
        call_lists.remember(conn, headings, ReadBefore(read_as, {**before.meanings, **meant}, by_what), utc_now())
    return ReadResults(headings, shown, dict(words.most_common()), meant, by_what, noted, dict(skipped.most_common()))


class _Reader:
    def __init__(
        self,
        conn: sqlite3.Connection,
        settings: Settings,
        fields: Mapping[str, str],
        meanings: Mapping[str, str],
        channel: str,
        by: str,
    ) -> None:
        self._conn, self._settings, self._fields, self._meanings = conn, settings, fields, meanings
        self._channel, self._by, self._scorer = channel, by, Scorer(conn)

    @cached_property
    def _numbers(self) -> dict[str, int]:
        return call_lists.find_by_numbers(self._conn)

    @cached_property
    def _emails(self) -> dict[str, int]:
        return call_lists.find_by_emails(self._conn)

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
        wanted = int(reference) if reference.isdecimal() and len(reference) < 10 else 0
        wanted = wanted or (self._numbers.get(number, 0) if number else 0)
        wanted = wanted or (self._emails.get(cells["email"].lower(), 0) if cells.get("email") else 0)
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
            return "no business has this reference, number or address"
        if row["relationship"] == "refused" and result != "refused":
            return "the business asked not to be contacted"
        if result == BOUNCED:
            return self._bounce(row["id"], cells, keep=keep)
        at = _moment(cells.get("at", ""))
        day = cells.get("follow_up", "")[:10]
        if result == "call back" and not _is_day(day):
            day = (now() + timedelta(days=1)).date().isoformat()
        if not keep:
            return ""
        if at and not call_lists.note_read(self._conn, row["id"], at, result):
            return "it was read before"
        amount = _amount(cells.get("amount", "")) if result == "won" else None
        report = ContactReport(
            result, note=cells.get("note", ""), follow_up=day if _is_day(day) else "", amount=amount, by=self._by,
            channel=self._channel,
        )  # fmt: skip
        text, undo = apply_result(self._conn, row["id"], report, at or utc_now(), self._settings, self._scorer)
        action_log.insert_action(self._conn, utc_now(), text, undo)
        return ""

    def _bounce(self, business_id: int, cells: Mapping[str, str], *, keep: bool) -> str:
        """Nobody is at the address: that says nothing of the business."""
        address = cells.get("email", "").lower()
        if not address:
            return "it does not say which address bounced"
        if keep:
            note_dead(self._conn, business_id, address, cells.get("note", ""))
            pipeline.add_activity(
                self._conn, business_id, self._by, f"a message to {address} came back", utc_now(), "note"
            )
        return ""


def _is_day(text: str) -> bool:
    try:
        datetime.strptime(text, "%Y-%m-%d")
    except ValueError:
        return False
    return True


def _amount(text: str) -> float | None:
    """A sum of money as a tool writes it, None for what is none."""
    digits = re.sub(r"[^\d.,]", "", text)
    if re.search(r",\d{1,2}$", digits):  # a comma for cents, as on the continent of Europe
        digits = digits.replace(".", "").replace(",", ".")
    try:
        return float(digits.replace(",", "")) or None
    except ValueError:
        return None


def _moment(text: str) -> str:
    """A moment as the store has them, "" for what is none or lies ahead (ISO 8601; without a zone: this machine's)."""
    try:
        moment = datetime.fromisoformat(text.replace("Z", "+00:00"))
    except ValueError:
        return ""
    moment = moment.astimezone()
    return "" if moment > now() else moment.astimezone(now().tzinfo).isoformat(timespec="seconds")
