"""Proposals: what was offered to a business, shown where, and who accepted it."""

import sqlite3
from dataclasses import dataclass

from pydantic import TypeAdapter

from openacorn.core.report.proposal import PricedProposal
from openacorn.errors import NotFound

BODY = TypeAdapter(PricedProposal)
COLUMNS = "id, business_id, token, body, made_at, by, shared_at, withdrawn_at, accepted_at, accepted_by, accepted_from"
ADD = "INSERT INTO proposal (business_id, token, body, made_at, by) VALUES (?, ?, ?, ?, ?) RETURNING id"
ACCEPT = """
UPDATE proposal SET accepted_at = ?, accepted_by = ?, accepted_from = ?
WHERE id = ? AND accepted_at = '' AND withdrawn_at = '' AND shared_at != ''
"""


@dataclass(frozen=True, slots=True)
class StoredProposal:
    """One proposal as it is kept. Moments are ISO 8601, "" for what did not happen."""

    id: int
    business_id: int
    token: str
    body: PricedProposal
    made_at: str
    by: str
    shared_at: str
    withdrawn_at: str
    accepted_at: str
    accepted_by: str
    accepted_from: str


def _stored(row: sqlite3.Row) -> StoredProposal:
    return StoredProposal(**{**dict(row), "body": BODY.validate_json(row["body"])})


def insert_proposal(
    conn: sqlite3.Connection, business_id: int, token: str, body: PricedProposal, at: str, by: str
) -> int:
    """Keep a new proposal; return its number."""
    return int(conn.execute(ADD, (business_id, token, BODY.dump_json(body).decode(), at, by)).fetchone()[0])


def change_proposal(conn: sqlite3.Connection, number: int, body: PricedProposal) -> None:
    """Keep another body of one that was not shared."""
    conn.execute("UPDATE proposal SET body = ? WHERE id = ?", (BODY.dump_json(body).decode(), number))


def get_proposal(conn: sqlite3.Connection, number: int) -> StoredProposal:
    """One proposal. Raises NotFound."""
    row = conn.execute(f"SELECT {COLUMNS} FROM proposal WHERE id = ?", (number,)).fetchone()
    if row is None:
        raise NotFound(f"there is no proposal {number}")
    return _stored(row)


def get_by_token(conn: sqlite3.Connection, token: str) -> StoredProposal | None:
    """The proposal at an address, None if there never was one."""
    row = conn.execute(f"SELECT {COLUMNS} FROM proposal WHERE token = ?", (token,)).fetchone()
    return None if row is None else _stored(row)


def list_proposals(conn: sqlite3.Connection, business_id: int) -> list[StoredProposal]:
    """A business's proposals, the newest first."""
    rows = conn.execute(f"SELECT {COLUMNS} FROM proposal WHERE business_id = ? ORDER BY id DESC", (business_id,))
    return [_stored(row) for row in rows]


def share(conn: sqlite3.Connection, number: int, at: str) -> None:
    """Show it at its address."""
    conn.execute("UPDATE proposal SET shared_at = ? WHERE id = ? AND shared_at = ''", (at, number))


def withdraw(conn: sqlite3.Connection, number: int, at: str) -> None:
    """Close its address."""
    conn.execute("UPDATE proposal SET withdrawn_at = ? WHERE id = ? AND withdrawn_at = ''", (at, number))


def accept(conn: sqlite3.Connection, number: int, at: str, by: str, sender: str) -> bool:
    """Note who accepted it; False if it was accepted before, or is shown no more."""
    return conn.execute(ACCEPT, (at, by, sender, number)).rowcount == 1
