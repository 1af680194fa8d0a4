"""How much of people is kept, why, and which businesses nobody has touched for long."""

import sqlite3
from dataclasses import dataclass

from openacorn.db.changes import touch

KINDS = (
    (
        "E-mail addresses",
        "websites",
        "SELECT count(*), min(at) FROM contact JOIN audit USING (business_id) WHERE kind = 'email'",
    ),
    (
        "Phone numbers",
        "websites",
        "SELECT count(*), min(at) FROM contact JOIN audit USING (business_id) WHERE kind = 'phone'",
    ),
    ("Phone numbers", "listings", "SELECT count(*), min(first_seen) FROM business WHERE phone != ''"),
    ("Listings as received", "sources", "SELECT count(*), min(seen_at) FROM listing"),
    ("Pages of websites", "websites", "SELECT count(*), min(at) FROM raw_page"),
    ("Messages sent and waiting", "you", "SELECT count(*), min(made_at) FROM message"),
    ("Replies by e-mail", "the people themselves", "SELECT count(*), min(at) FROM incoming"),
    ("Replies on owner’s pages", "the people themselves", "SELECT count(*), min(at) FROM reply"),
    ("Notes and calls", "you", "SELECT count(*), min(at) FROM step"),
    ("Appointments", "you", "SELECT count(*), min(made_at) FROM appointment"),
    ("Clients & do-not-contact", "you", "SELECT count(*), min(at) FROM relationship"),
    ("People erased (hashes alone)", "you", "SELECT count(*), min(at) FROM erased_person"),
)
UNTOUCHED = """
SELECT business.id FROM business WHERE first_seen != '' AND first_seen < :before AND relationship = ''
AND NOT EXISTS (SELECT 1 FROM step WHERE step.business_id = business.id AND at >= :before)
AND NOT EXISTS (SELECT 1 FROM member WHERE member.business_id = business.id AND (stage != 'new' OR added_at >= :before))
AND NOT EXISTS (SELECT 1 FROM message WHERE message.business_id = business.id AND made_at >= :before)
AND NOT EXISTS (SELECT 1 FROM incoming WHERE incoming.business_id = business.id AND at >= :before)
AND NOT EXISTS (SELECT 1 FROM outcome WHERE outcome.business_id = business.id AND stage = 'won')
AND (phone != '' OR email != '' OR EXISTS (SELECT 1 FROM contact WHERE contact.business_id = business.id AND kind != 'social'))
ORDER BY business.id LIMIT :most
"""


@dataclass(frozen=True, slots=True)
class KeptKind:
    """A kind of data about people. since: the oldest, "" where there is none."""

    kind: str
    origin: str
    count: int
    since: str


@dataclass(frozen=True, slots=True)
class LegalBasis:
    """Why the agency may keep data of people in a country (ISO 3166, "" for all others)."""

    country: str
    text: str


def kept_kinds(conn: sqlite3.Connection) -> list[KeptKind]:
    """What is kept of people."""
    found = []
    for kind, origin, query in KINDS:
        count, since = conn.execute(query).fetchone()
        found.append(KeptKind(kind, origin, int(count), since or ""))
    return found


def untouched(conn: sqlite3.Connection, before: str, most: int) -> list[int]:
    """Businesses with somebody's data in them that nobody has touched since a moment: no contact, message, list or sale."""
    return [int(row[0]) for row in conn.execute(UNTOUCHED, {"before": before, "most": most})]


def contacts_of(conn: sqlite3.Connection, business: int) -> list[tuple[str, str]]:
    """(kind, value) of the addresses and numbers of one business."""
    query = """
    SELECT kind, value FROM contact WHERE business_id = ?1 AND kind IN ('email', 'phone')
    UNION SELECT 'phone', phone FROM business WHERE id = ?1 AND phone != ''
    UNION SELECT 'email', email FROM business WHERE id = ?1 AND email != ''
    """
    return [(str(row[0]), str(row[1])) for row in conn.execute(query, (business,))]


def drop_contacts(conn: sqlite3.Connection, business: int) -> None:
    """Drop what was found of ways to reach people at one business, and the pages where it was found."""
    for table in ("contact", "raw_page", "screenshot"):
        conn.execute(f"DELETE FROM {table} WHERE business_id = ?", (business,))
    conn.execute("UPDATE business SET channels = '[]' WHERE id = ?", (business,))
    touch(conn, [business])


def list_bases(conn: sqlite3.Connection) -> list[LegalBasis]:
    """The notes on legal bases by country."""
    return [LegalBasis(**dict(row)) for row in conn.execute("SELECT country, text FROM legal_basis ORDER BY country")]


def set_basis(conn: sqlite3.Connection, basis: LegalBasis, at: str) -> None:
    """Store a note; an empty text takes it away."""
    conn.execute("DELETE FROM legal_basis WHERE country = ?", (basis.country,))
    if basis.text.strip():
        conn.execute("INSERT INTO legal_basis (country, text, at) VALUES (?, ?, ?)", (basis.country, basis.text, at))
