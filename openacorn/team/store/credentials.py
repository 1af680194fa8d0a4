"""Sessions of browsers, tokens of programs, sign-ins that failed, and the log of what people did."""

import sqlite3
from collections.abc import Collection
from dataclasses import dataclass

import orjson

from openacorn.acting import Act

ADD = """
INSERT INTO credential (hash, account_id, kind, name, scopes, address, made_at, seen_at, expires_at)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING id
"""
FIELDS = "id, account_id, kind, name, scopes, address, made_at, seen_at, expires_at"
LOGGED = """
SELECT id, at, author, what, subject, by_token FROM activity_log
WHERE (:author = '' OR author = :author) AND (:what = '' OR what LIKE '%' || :what || '%') AND (:since = '' OR at >= :since)
AND (:before = 0 OR id < :before) ORDER BY id DESC LIMIT :most
"""


@dataclass(frozen=True, slots=True)
class Credential:
    """A session of a browser, or a program's token. name: what the browser calls itself, or what the user named the token.

    scopes: a token's permissions, None for a session; address: where it was opened from.
    """

    id: int
    account_id: int
    kind: str
    name: str
    scopes: tuple[str, ...] | None
    address: str
    made_at: str
    seen_at: str
    expires_at: str


@dataclass(frozen=True, slots=True)
class LoggedActivity:
    """What somebody did. subject: the numbers and words in the address; by_token: the program's token, "" for a browser."""

    id: int
    at: str
    author: str
    what: str
    subject: str
    by_token: str


def _credential(row: sqlite3.Row) -> Credential:
    scopes = None if row["scopes"] is None else tuple(orjson.loads(row["scopes"]))
    return Credential(**{**{name: row[name] for name in FIELDS.split(", ")}, "scopes": scopes})


def insert_credential(conn: sqlite3.Connection, hashed: str, credential: Credential) -> int:
    """Store an credential under the hash of what is shown for it; return its id."""
    scopes = None if credential.scopes is None else orjson.dumps(credential.scopes).decode()
    values = (
        hashed,
        credential.account_id,
        credential.kind,
        credential.name,
        scopes,
        credential.address,
        credential.made_at,
        credential.seen_at,
    )
    return int(conn.execute(ADD, (*values, credential.expires_at)).fetchone()[0])


def find_credential(conn: sqlite3.Connection, hashed: str) -> Credential | None:
    """The credential that this hash is of."""
    row = conn.execute(f"SELECT {FIELDS} FROM credential WHERE hash = ?", (hashed,)).fetchone()
    return _credential(row) if row else None


def list_credentials(conn: sqlite3.Connection, account: int, kind: str, at: str) -> list[Credential]:
    """A person's credentials of one kind that have not expired, the last used first."""
    query = f"SELECT {FIELDS} FROM credential WHERE account_id = ? AND kind = ? AND expires_at > ? ORDER BY seen_at DESC, id DESC"
    return [_credential(row) for row in conn.execute(query, (account, kind, at))]


def note_used(conn: sqlite3.Connection, number: int, at: str) -> None:
    """Note when an credential was last used."""
    conn.execute("UPDATE credential SET seen_at = ? WHERE id = ?", (at, number))


def delete_credential(conn: sqlite3.Connection, number: int, account: int) -> bool:
    """End one of a person's credentials; False if they have none of that number."""
    return conn.execute("DELETE FROM credential WHERE id = ? AND account_id = ?", (number, account)).rowcount == 1


def delete_credentials(conn: sqlite3.Connection, account: int, kinds: Collection[str], but: int = 0) -> None:
    """End all of a person's credentials of some kinds, except one."""
    for kind in kinds:
        conn.execute("DELETE FROM credential WHERE account_id = ? AND kind = ? AND id != ?", (account, kind, but))


def delete_expired(conn: sqlite3.Connection, at: str) -> None:
    """Drop what has expired."""
    conn.execute("DELETE FROM credential WHERE expires_at <= ?", (at,))
    conn.execute("DELETE FROM welcome_link WHERE expires_at <= ?", (at,))


def note_try(conn: sqlite3.Connection, at: str, who: str, address: str, before: str) -> int:
    """Note a sign-in as failed until it has not, and drop those before a moment; return its number."""
    conn.execute("DELETE FROM failed_sign_in WHERE at < ?", (before,))
    query = "INSERT INTO failed_sign_in (at, who, address) VALUES (?, ?, ?) RETURNING rowid"
    return int(conn.execute(query, (at, who, address)).fetchone()[0])


def forget_try(conn: sqlite3.Connection, number: int) -> None:
    """Drop one: it was no failure."""
    conn.execute("DELETE FROM failed_sign_in WHERE rowid = ?", (number,))


def failures(conn: sqlite3.Connection, who: str, address: str, since: str) -> tuple[int, int]:
    """How many sign-ins failed since a moment: of this person, and from this address."""
    query = "SELECT ifnull(sum(who = ?), 0), ifnull(sum(address = ?), 0) FROM failed_sign_in WHERE at >= ?"
    of_person, from_address = conn.execute(query, (who, address, since)).fetchone()
    return int(of_person), int(from_address)


def forget_failures(conn: sqlite3.Connection, who: str) -> None:
    """Drop a person's failures: they are in."""
    conn.execute("DELETE FROM failed_sign_in WHERE who = ?", (who,))


def log_activity(conn: sqlite3.Connection, act: Act, at: str) -> None:
    """Note what somebody did."""
    account, author, by_token = act.who
    conn.execute(
        "INSERT INTO activity_log (at, account_id, author, what, subject, path, by_token) VALUES (?, ?, ?, ?, ?, ?, ?)",
        (at, account, author, act.what, act.subject, act.path, by_token),
    )


def last_author(conn: sqlite3.Connection, path: str, but: int) -> str:
    """The last person other than one account to change what is at an address; "" if there is none."""
    query = "SELECT author FROM activity_log WHERE path = ? AND account_id != ? ORDER BY id DESC LIMIT 1"
    row = conn.execute(query, (path, but)).fetchone()
    return str(row[0]) if row else ""


def list_authors(conn: sqlite3.Connection) -> list[str]:
    """Everybody who did something, by name."""
    return [str(row[0]) for row in conn.execute("SELECT DISTINCT author FROM activity_log ORDER BY author")]


def list_activities(
    conn: sqlite3.Connection, most: int, author: str = "", what: str = "", since: str = "", before: int = 0
) -> list[LoggedActivity]:
    """What people did, the last first. author: of one person alone; what: a word in it; before: numbers under this alone."""
    asked = {"author": author, "what": what, "since": since, "before": before, "most": most}
    return [LoggedActivity(**dict(row)) for row in conn.execute(LOGGED, asked)]
