"""Who belongs to the team: invite, change, switch off. Nobody gives what they have not, and an owner always stays."""

import sqlite3
from collections.abc import Collection
from dataclasses import replace

from openacorn.clock import utc_now
from openacorn.core.team.permission import ROLES, Permission, permissions_of
from openacorn.db.database import Database
from openacorn.errors import Conflict, InvalidInput, NotFound
from openacorn.team.identity import Identity, NotPermitted
from openacorn.team.passwords import check_password, hash_password
from openacorn.team.store import accounts, credentials
from openacorn.team.store.accounts import Account


class LastOwner(Conflict):
    """Nobody could change the accounts any more."""

    where = "role"
    remedy = "make somebody else an owner first"


def _may_give(by: Identity, role: str, own: Collection[str] | None) -> None:
    """Raises NotPermitted, RoleRefused."""
    if role == "owner" and by.role != "owner":
        raise NotPermitted("an owner alone makes owners")
    if missing := permissions_of(role, own) - by.permissions:
        raise NotPermitted(f"you cannot give what you may not do yourself ({min(missing)})")


def add_account(
    conn: sqlite3.Connection, by: Identity, email: str, name: str, role: str, own: Collection[str] | None = None
) -> Account:
    """Add somebody, who chooses a password by a link. Raises NameTaken, NotPermitted, RoleRefused."""
    _may_give(by, role, own)
    return accounts.get_account(conn, accounts.insert_account(conn, email, name, role, own, utc_now()))


def add_first_owner(conn: sqlite3.Connection, email: str, name: str, password: str) -> Account:
    """Make the first account, an owner's, with its password. Raises Conflict if there is one, WeakPassword."""
    if accounts.any_account(conn):
        raise Conflict("there are accounts already")
    check_password(password, (email, name))
    for left_over in accounts.list_accounts(conn):  # of an earlier beginning that nobody finished
        accounts.delete_account(conn, left_over.id)
    number = accounts.insert_account(conn, email, name, "owner", None, utc_now())
    accounts.set_password(conn, number, hash_password(password))
    return accounts.get_account(conn, number)


def change_account(conn: sqlite3.Connection, by: Identity, number: int, changed: Account) -> Account:
    """Change name, address, role, permissions, or whether somebody may sign in; switched off, their sessions and tokens end.

    Raises NotFound, NameTaken, NotPermitted, RoleRefused, LastOwner.
    """
    before = accounts.get_account(conn, number)
    if before.role == "owner" and by.role != "owner":
        raise NotPermitted("an owner alone changes an owner's account")
    rights = (changed.role, changed.own_permissions, changed.active)
    if rights != (before.role, before.own_permissions, before.active):
        if by.account == number:
            raise InvalidInput("nobody changes their own rights; have another owner or manager do it")
        _may_give(by, changed.role, changed.own_permissions)
    accounts.update_account(conn, replace(changed, id=number))
    if changed.name.strip() != before.name:
        accounts.rename_in_work(conn, before.name, changed.name.strip())
    if before.role == "owner" and before.active and not accounts.owners(conn):
        raise LastOwner("there would be no owner left")
    if not changed.active:
        credentials.delete_credentials(conn, number, ("session", "token"))
        accounts.delete_links(conn, number)
    return accounts.get_account(conn, number)


def may_make_link(by: Identity, account: Account) -> None:
    """Who makes a link for somebody could sign in as them. Raises NotPermitted."""
    if account.role == "owner" and by.role != "owner":
        raise NotPermitted("an owner alone makes a link for an owner")
    if account.permissions - by.permissions:
        raise NotPermitted("you cannot make a link for somebody who may do more than you")


def check_scopes(by: Identity, scopes: Collection[str]) -> tuple[str, ...]:
    """A token's scopes, as far as they are somebody's own. Raises NotPermitted, InvalidInput."""
    strange = set(scopes) - set(Permission)
    if strange or not scopes:
        raise InvalidInput(f"a token needs scopes among: {', '.join(Permission)}")
    if set(scopes) - by.permissions:
        raise NotPermitted("a token cannot do more than you may")
    return tuple(sorted({*scopes, Permission.SEE}))


def has_accounts(database: Database) -> bool:
    """Does anybody sign in here?"""
    with database.read() as conn:
        return accounts.any_account(conn)


def all_accounts(conn: sqlite3.Connection) -> list[Account]:
    """Everybody by name."""
    return accounts.list_accounts(conn)


def account_of(conn: sqlite3.Connection, email: str) -> Account:
    """Whose e-mail address it is. Raises NotFound."""
    if (found := accounts.find_account(conn, email)) is None:
        raise NotFound(f"nobody here has the e-mail address {email}")
    return found


def switch(conn: sqlite3.Connection, by: Identity, account: Account, *, active: bool) -> Account:
    """Let somebody in no more, or again. Raises LastOwner, NotPermitted."""
    return change_account(conn, by, account.id, replace(account, active=active))


def drop_codes_of(conn: sqlite3.Connection, account: Account) -> None:
    """Switch off one-time codes for somebody who cannot do it themselves."""
    accounts.set_codes(conn, account.id, "", ())


def role_titles() -> dict[str, list[Permission]]:
    """Role → what it permits, in the order of the permissions."""
    return {role: [one for one in Permission if one in permitted] for role, permitted in ROLES.items()}
