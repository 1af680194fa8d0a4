"""Log-ins and keys, sealed (Fernet: AES-128-CBC with HMAC) under a key that lies in a file beside the database, not in it."""

import os
import sqlite3
from pathlib import Path

from cryptography.fernet import Fernet, InvalidToken

KEY_FILE = "secret.key"


class SealBroken(Exception):
    """A secret cannot be opened: the key file is another one. The message says what to do."""


def _key(folder: Path) -> bytes:
    """The installation's key; made once, readable by its owner alone."""
    path = folder / KEY_FILE
    try:
        with os.fdopen(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb") as file:
            file.write(Fernet.generate_key())
    except FileExistsError:
        pass
    return path.read_bytes()


def keep(conn: sqlite3.Connection, folder: Path, name: str, secret: str, at: str) -> None:
    """Keep a secret under a name; an empty one takes it away."""
    if not secret:
        conn.execute("DELETE FROM secret WHERE name = ?", (name,))
        return
    sealed = Fernet(_key(folder)).encrypt(secret.encode())
    conn.execute("INSERT OR REPLACE INTO secret (name, sealed, at) VALUES (?, ?, ?)", (name, sealed, at))


def reveal(conn: sqlite3.Connection, folder: Path, name: str) -> str:
    """The secret, "" if none is kept. Raises SealBroken."""
    row = conn.execute("SELECT sealed FROM secret WHERE name = ?", (name,)).fetchone()
    if row is None:
        return ""
    try:
        return Fernet(_key(folder)).decrypt(row[0]).decode()
    except (InvalidToken, ValueError):
        raise SealBroken(
            f"the secret of {name} was sealed with another key; bring back {KEY_FILE} or enter it again"
        ) from None


def kept(conn: sqlite3.Connection) -> frozenset[str]:
    """Names under which a secret is kept."""
    return frozenset(str(row[0]) for row in conn.execute("SELECT name FROM secret"))
