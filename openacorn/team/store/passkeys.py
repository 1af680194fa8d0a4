"""Keys of devices that people sign in with."""

import sqlite3
from dataclasses import dataclass

from openacorn.errors import Conflict, NotFound

FIELDS = "id, account_id, credential, key, uses, name, made_at, used_at"


@dataclass(frozen=True, slots=True)
class Passkey:
    """credential: the device's name for it; key: its public key (COSE); uses: the device's own count of uses."""

    id: int
    account_id: int
    credential: bytes
    key: bytes
    uses: int
    name: str
    made_at: str
    used_at: str


def list_passkeys(conn: sqlite3.Connection, account: int) -> list[Passkey]:
    """A person's keys, the oldest first."""
    query = f"SELECT {FIELDS} FROM passkey WHERE account_id = ? ORDER BY id"
    return [Passkey(**dict(row)) for row in conn.execute(query, (account,))]


def find_passkey(conn: sqlite3.Connection, credential: bytes) -> Passkey | None:
    """The key that a device names so."""
    row = conn.execute(f"SELECT {FIELDS} FROM passkey WHERE credential = ?", (credential,)).fetchone()
    return Passkey(**dict(row)) if row else None


def insert_passkey(conn: sqlite3.Connection, passkey: Passkey) -> None:
    """Keep a key. Raises Conflict if it is kept already."""
    values = (passkey.account_id, passkey.credential, passkey.key, passkey.uses, passkey.name, passkey.made_at)
    try:
        conn.execute(
            "INSERT INTO passkey (account_id, credential, key, uses, name, made_at) VALUES (?, ?, ?, ?, ?, ?)", values
        )
    except sqlite3.IntegrityError:
        raise Conflict("this passkey is known already") from None


def note_use(conn: sqlite3.Connection, passkey: Passkey, uses: int, at: str) -> bool:
    """Note a sign-in by it; False if somebody else did meanwhile: each answer of a device lets in once."""
    query = "UPDATE passkey SET uses = ?, used_at = ? WHERE id = ? AND uses = ?"
    return conn.execute(query, (uses, at, passkey.id, passkey.uses)).rowcount == 1


def delete_passkey(conn: sqlite3.Connection, number: int, account: int) -> None:
    """Take one of a person's keys away. Raises NotFound."""
    if conn.execute("DELETE FROM passkey WHERE id = ? AND account_id = ?", (number, account)).rowcount == 0:
        raise NotFound("there is no such passkey of yours")
