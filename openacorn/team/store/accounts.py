"""Accounts, and the links by which people choose a password."""

import sqlite3
from collections.abc import Collection
from dataclasses import dataclass

import orjson

from openacorn.core.team.permission import Permission, permissions_of
from openacorn.errors import NameTaken, NotFound

FIELDS = "id, email, name, role, permissions, active, made_at, seen_at, password, code_secret, code_used, recovery"
ADD = "INSERT INTO account (email, name, role, permissions, made_at) VALUES (?, ?, ?, ?, ?) RETURNING id"
CHANGE = "UPDATE account SET email = ?, name = ?, role = ?, permissions = ?, active = ? WHERE id = ?"


@dataclass(frozen=True, slots=True)
class Account:
    """A person who may sign in. own_permissions: a list made for them, None where the role says it all.

    password: its hash, "" until one is chosen; code_secret: sealed; code_used: the number of the 30 seconds
    whose one-time code let them in last; recovery: hashes of the codes that replace one.
    """

    id: int
    email: str
    name: str
    role: str
    own_permissions: tuple[str, ...] | None
    active: bool
    made_at: str
    seen_at: str
    password: str
    code_secret: str
    code_used: int
    recovery: tuple[str, ...]

    @property
    def permissions(self) -> frozenset[Permission]:
        """What they may do."""
        return permissions_of(self.role, self.own_permissions)


def _account(row: sqlite3.Row) -> Account:
    own = None if row["permissions"] is None else tuple(orjson.loads(row["permissions"]))
    return Account(
        row["id"], row["email"], row["name"], row["role"], own, bool(row["active"]), row["made_at"], row["seen_at"],
        row["password"], row["code_secret"], row["code_used"], tuple(orjson.loads(row["recovery"])),
    )  # fmt: skip


def list_accounts(conn: sqlite3.Connection) -> list[Account]:
    """Everybody by name, those who may not sign in any more last."""
    return [_account(row) for row in conn.execute(f"SELECT {FIELDS} FROM account ORDER BY active DESC, name")]


def find_account(conn: sqlite3.Connection, email: str) -> Account | None:
    """Whose e-mail address it is."""
    row = conn.execute(f"SELECT {FIELDS} FROM account WHERE email = ?", (email.strip(),)).fetchone()
    return _account(row) if row else None


def get_account(conn: sqlite3.Connection, number: int) -> Account:
    """One account. Raises NotFound."""
    row = conn.execute(f"SELECT {FIELDS} FROM account WHERE id = ?", (number,)).fetchone()
    if row is None:
        raise NotFound(f"there is no account {number}")
    return _account(row)


def any_account(conn: sqlite3.Connection) -> bool:
    """Is there one that can be signed in to? Until then, the person at this machine is the user."""
    return conn.execute("SELECT 1 FROM account WHERE active = 1 AND password != ''").fetchone() is not None


def owners(conn: sqlite3.Connection) -> int:
    """How many owners can sign in."""
    query = "SELECT count(*) FROM account WHERE role = 'owner' AND active = 1 AND password != ''"
    return int(conn.execute(query).fetchone()[0])


def _listed(own: Collection[str] | None) -> str | None:
    return None if own is None else orjson.dumps(sorted(own)).decode()


def insert_account(
    conn: sqlite3.Connection, email: str, name: str, role: str, own: Collection[str] | None, at: str
) -> int:
    """Add an account without a password; return its id. Raises NameTaken."""
    try:
        return int(conn.execute(ADD, (email.strip(), name.strip(), role, _listed(own), at)).fetchone()[0])
    except sqlite3.IntegrityError:
        raise NameTaken("somebody has that e-mail address or name already") from None


def update_account(conn: sqlite3.Connection, account: Account) -> None:
    """Store what can be changed of an account by others. Raises NameTaken."""
    values = (account.email.strip(), account.name.strip(), account.role, _listed(account.own_permissions))
    try:
        conn.execute(CHANGE, (*values, int(account.active), account.id))
    except sqlite3.IntegrityError:
        raise NameTaken("somebody has that e-mail address or name already") from None


def rename_in_work(conn: sqlite3.Connection, before: str, after: str) -> None:
    """What somebody has and is to do stays theirs under another name; what they did is kept under the name they had."""
    for query in (
        "UPDATE member SET owner = ? WHERE owner = ?",
        "UPDATE appointment SET by = ? WHERE by = ?",
        "UPDATE OR IGNORE calendar_feed SET by = ? WHERE by = ?",
    ):
        conn.execute(query, (after, before))
    for place, people in conn.execute("SELECT place, people FROM assignment_rule").fetchall():
        names = [after if name == before else name for name in orjson.loads(people)]
        conn.execute("UPDATE assignment_rule SET people = ? WHERE place = ?", (orjson.dumps(names).decode(), place))


def delete_account(conn: sqlite3.Connection, number: int) -> None:
    """Take an account away, with its sessions and links."""
    conn.execute("DELETE FROM account WHERE id = ?", (number,))


def set_password(conn: sqlite3.Connection, number: int, hashed: str) -> None:
    """Store a password's hash."""
    conn.execute("UPDATE account SET password = ? WHERE id = ?", (hashed, number))


def set_codes(conn: sqlite3.Connection, number: int, sealed: str, recovery: Collection[str]) -> None:
    """Store the secret of one-time codes, and the codes that replace one; "" removes both."""
    stored = orjson.dumps(list(recovery)).decode()
    conn.execute(
        "UPDATE account SET code_secret = ?, code_used = 0, recovery = ? WHERE id = ?", (sealed, stored, number)
    )


def use_code(conn: sqlite3.Connection, number: int, step: int) -> bool:
    """Note that the code of these 30 seconds was used; False if it, or a later one, was used before: a code lets in once."""
    changed = conn.execute("UPDATE account SET code_used = ?1 WHERE id = ?2 AND code_used < ?1", (step, number))
    return changed.rowcount == 1


def use_recovery(conn: sqlite3.Connection, account: Account, hashed: str) -> bool:
    """Strike out a recovery code; False if there is none such."""
    if hashed not in account.recovery:
        return False
    left = orjson.dumps([kept for kept in account.recovery if kept != hashed]).decode()
    conn.execute("UPDATE account SET recovery = ? WHERE id = ?", (left, account.id))
    return True


def note_seen(conn: sqlite3.Connection, number: int, at: str) -> None:
    """Note when somebody was last here."""
    conn.execute("UPDATE account SET seen_at = ? WHERE id = ?", (at, number))


def insert_link(conn: sqlite3.Connection, number: int, hashed: str, until: str) -> None:
    """Make a link good for choosing a password once; earlier ones of the same person are good no more."""
    conn.execute("DELETE FROM welcome_link WHERE account_id = ?", (number,))
    conn.execute("INSERT INTO welcome_link (hash, account_id, expires_at) VALUES (?, ?, ?)", (hashed, number, until))


def link_account(conn: sqlite3.Connection, hashed: str, at: str) -> Account | None:
    """Whose link it is, if it is good still."""
    query = "SELECT account_id FROM welcome_link WHERE hash = ? AND expires_at > ?"
    row = conn.execute(query, (hashed, at)).fetchone()
    return get_account(conn, row["account_id"]) if row else None


def delete_links(conn: sqlite3.Connection, number: int) -> None:
    """Make a person's links good no more."""
    conn.execute("DELETE FROM welcome_link WHERE account_id = ?", (number,))
