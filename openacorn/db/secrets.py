"""Log-ins and keys, sealed (Fernet: AES-128-CBC with HMAC) under a key that lies in a file beside the database, not in it."""

import sqlite3
from pathlib import Path

from cryptography.fernet import Fernet, InvalidToken

from openacorn.db.folder import write_private
from openacorn.errors import Conflict

KEY_FILE = "secret.key"


class SealBroken(Conflict):
    """A secret cannot be opened: the key file is another one. The message says what to do."""

    where = "secret"
    remedy = "enter the secret again"


def installation_key(folder: Path) -> bytes:
    """The installation's key; made once, readable by its owner alone. An empty file, as a crash could leave one, seals nothing
    and is replaced."""
    path = folder / KEY_FILE
    if not path.exists() or not path.read_bytes().strip():
        write_private(path, Fernet.generate_key())
    return path.read_bytes()


def seal(folder: Path, text: str) -> str:
    """A text that only this installation can open. Raises SealBroken."""
    try:
        return Fernet(installation_key(folder)).encrypt(text.encode()).decode()
    except ValueError:
        raise SealBroken(f"{KEY_FILE} is damaged; bring back the right one from a backup, or delete it") from None


def unseal(folder: Path, sealed: str | bytes) -> str:
    """The text that was sealed. Raises SealBroken."""
    try:
        return Fernet(installation_key(folder)).decrypt(sealed).decode()
    except (InvalidToken, ValueError):
        raise SealBroken(f"this was sealed with another key; bring back {KEY_FILE} or enter it again") from None


def keep(conn: sqlite3.Connection, folder: Path, name: str, secret: str, at: str) -> None:
    """Keep a secret under a name; an empty one takes it away. Raises SealBroken."""
    if not secret:
        conn.execute("DELETE FROM secret WHERE name = ?", (name,))
        return
    sealed = seal(folder, secret).encode()
    conn.execute("INSERT OR REPLACE INTO secret (name, sealed, at) VALUES (?, ?, ?)", (name, sealed, at))


def reveal(conn: sqlite3.Connection, folder: Path, name: str) -> str:
    """The secret, "" if none is kept. Raises SealBroken."""
    row = conn.execute("SELECT sealed FROM secret WHERE name = ?", (name,)).fetchone()
    if row is None:
        return ""
    try:
        return unseal(folder, row[0])
    except SealBroken:
        raise SealBroken(
            f"the secret of {name} was sealed with another key; bring back {KEY_FILE} or enter it again"
        ) from None


def kept(conn: sqlite3.Connection) -> frozenset[str]:
    """Names under which a secret is kept."""
    return frozenset(str(row[0]) for row in conn.execute("SELECT name FROM secret"))
