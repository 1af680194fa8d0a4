"""A person's traces in every table: found by reading all texts, compressed ones too, and taken out where they stand."""

import re
import sqlite3
from collections.abc import Iterator
from dataclasses import dataclass

from openacorn.core.privacy.traces import erased
from openacorn.db.changes import touch
from openacorn.db.compression import BEGINNINGS, NotCompressed, compress, decompress

AGENCY = frozenset({
    "account", "credential", "welcome_link", "failed_sign_in", "activity_log", "secret", "mailbox", "calendar_feed", "schedule",
    "webhook", "website_host", "text_gateway", "letterhead", "service", "service_version", "message_template", "sequence",
    "sending", "reading_plan", "preset", "place", "region", "change_counter", "own_trade", "erased_person", "legal_basis",
    "angle", "share", "assignment_rule", "allowance", "taken_out", "view_link", "passkey", "lane_spend",
    "column_memory", "result_file", "do_not_call", "territory",
})  # fmt: skip
"""Tables about the agency, its people and its settings, and public registers: no contact of the agency is in them."""

TITLES = {
    "business": "A business",
    "listing": "What a source listed",
    "listing_change": "What a source changed",
    "listing_key": "Matching",
    "listing_record": "Matching",
    "contact": "Contacts on a website",
    "audit": "A website as it was read",
    "raw_page": "Pages of a website",
    "page_text": "Text of pages",
    "past_audit": "An earlier audit",
    "finding": "Findings",
    "verification": "Verified addresses",
    "message": "Messages",
    "incoming": "Replies by e-mail",
    "reply": "Replies on a page",
    "enrolment": "Sequences",
    "step": "Notes and calls",
    "appointment": "Appointments",
    "owner_page": "Owner’s pages",
    "proposal": "Proposals",
    "starter_site": "New websites",
    "starter_version": "Versions of new websites",
    "relationship": "Clients & do-not-contact",
    "deed": "What can be undone",
    "unit": "Tasks of sweeps",
    "event": "Webhook events",
    "mailing": "Mailings",
    "tag": "Tags",
}
"""Table → what it is called on screen; the others by their own name."""

WHEN = ("at", "seen_at", "made_at", "sent_at", "added_at", "started_at")
WHENCE = ("url", "source", "how", "by")
AROUND = 40
REMADE = frozenset({"raw_page", "listing_record"})
"""Pages are read again at the next audit, records made again when listings are compared."""


@dataclass(frozen=True, slots=True)
class Trace:
    """One place where somebody stands. key: of the row, column → value; excerpt: with what is around it."""

    table: str
    column: str
    key: tuple[tuple[str, object], ...]
    business_id: int | None
    at: str
    whence: str
    excerpt: str

    @property
    def title(self) -> str:
        """What the table is called on screen."""
        return TITLES.get(self.table, self.table.replace("_", " ").capitalize())


@dataclass(frozen=True, slots=True)
class _Table:
    name: str
    columns: frozenset[str]
    texts: tuple[str, ...]
    key: tuple[str, ...]


def _tables(conn: sqlite3.Connection) -> Iterator[_Table]:
    rows = conn.execute(
        "SELECT name, sql FROM sqlite_schema WHERE type = 'table' AND name NOT LIKE 'sqlite_%' ORDER BY name"
    )
    for name, sql in rows.fetchall():
        if name in AGENCY or name.startswith("page_text_"):
            continue
        info = conn.execute(f"PRAGMA table_info('{name}')").fetchall()
        without = "WITHOUT ROWID" in (sql or "").upper()
        key = tuple(row["name"] for row in info if row["pk"]) if without else ("rowid",)
        texts = tuple(row["name"] for row in info if row["type"] in {"TEXT", "BLOB", ""})
        yield _Table(name, frozenset(row["name"] for row in info), texts, key)


def _text(value: object) -> str:
    """A stored value as text: compressed ones unpacked, pictures as nothing."""
    if isinstance(value, bytes):
        if not value.startswith(BEGINNINGS):
            return ""
        try:
            return decompress(value).decode("utf-8", "replace")
        except NotCompressed:
            return ""
    return value if isinstance(value, str) else ""


def find_traces(conn: sqlite3.Connection, pattern: re.Pattern[str], business: int | None = None) -> Iterator[Trace]:
    """Every place where somebody stands; of one business alone, if it is given."""
    for table in _tables(conn):
        names = table.columns
        owner = "id" if table.name == "business" else "business_id" if "business_id" in names else ""
        where = "rowid" if table.name == "page_text" else owner
        if business is not None and not where:
            continue
        keys = ", ".join(f'"{name}" AS k{number}' for number, name in enumerate(table.key))
        limit = f' WHERE "{where}" = {business}' if business is not None else ""
        for row in conn.execute(f'SELECT {keys}, * FROM "{table.name}"{limit}'):
            for column in table.texts:
                text = _text(row[column])
                if text and (hit := pattern.search(text)):
                    key = tuple((name, row[f"k{number}"]) for number, name in enumerate(table.key))
                    yield Trace(
                        table.name, column, key, row[owner] if owner else None,
                        next((row[name] for name in WHEN if name in names and row[name]), ""),
                        next((str(row[name]) for name in WHENCE if name in names and row[name]), ""),
                        " ".join(text[max(0, hit.start() - AROUND) : hit.end() + AROUND].split()),
                    )  # fmt: skip


def erase_trace(conn: sqlite3.Connection, pattern: re.Pattern[str], trace: Trace) -> None:
    """Take somebody out of one place. A row whose key they are goes; so does what is made again from the rest."""
    where = " AND ".join(f'"{name}" = ?' for name, _ in trace.key)
    values = [value for _, value in trace.key]
    if trace.table in REMADE or trace.column in {name for name, _ in trace.key}:
        conn.execute(f'DELETE FROM "{trace.table}" WHERE {where}', values)
        return
    row = conn.execute(f'SELECT "{trace.column}" FROM "{trace.table}" WHERE {where}', values).fetchone()
    if row is None:  # it went with another trace
        return
    left: str | bytes = erased(pattern, _text(row[0]))
    if isinstance(row[0], bytes):
        left = compress(str(left).encode())
    try:
        conn.execute(f'UPDATE "{trace.table}" SET "{trace.column}" = ? WHERE {where}', (left, *values))
    except sqlite3.IntegrityError:  # nothing else may be empty there: the row was about them alone
        conn.execute(f'DELETE FROM "{trace.table}" WHERE {where}', values)


def erase_pictures(conn: sqlite3.Connection, businesses: list[int]) -> None:
    """Drop screenshots of websites on which somebody stands: a picture cannot be searched."""
    for business in businesses:
        conn.execute("DELETE FROM screenshot WHERE business_id = ?", (business,))


def settle(conn: sqlite3.Connection, businesses: list[int]) -> None:
    """After erasing: the index of words is made again, and copies in memory learn what changed."""
    conn.execute("INSERT INTO page_text (page_text) VALUES ('rebuild')")
    conn.execute("INSERT INTO page_text (page_text) VALUES ('optimize')")
    touch(conn, businesses)


def keep_hashes(conn: sqlite3.Connection, hashes: list[tuple[str, str]], at: str) -> None:
    """Keep (kind, hash) of somebody erased."""
    rows = [(hashed, kind, at) for kind, hashed in hashes]
    conn.executemany("INSERT OR IGNORE INTO erased_person (hash, kind, at) VALUES (?, ?, ?)", rows)


def erased_hashes(conn: sqlite3.Connection) -> frozenset[str]:
    """Of everybody erased."""
    return frozenset(str(row[0]) for row in conn.execute("SELECT hash FROM erased_person"))


def known_addresses(conn: sqlite3.Connection) -> list[tuple[str, str]]:
    """(kind, value) of each e-mail address and phone number that the store holds of businesses."""
    query = """
    SELECT kind, value FROM contact WHERE kind IN ('email', 'phone')
    UNION SELECT 'phone', phone FROM business WHERE phone != '' UNION SELECT 'email', email FROM business WHERE email != ''
    """
    return [(str(row[0]), str(row[1])) for row in conn.execute(query)]
