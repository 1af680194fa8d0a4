"""Permissions and roles: what each lets a person do. A new permission is one member here, its sentence and its routes."""

from collections.abc import Collection, Iterable
from enum import StrEnum

from openacorn.errors import InvalidInput


class Permission(StrEnum):
    """One kind of act."""

    SEE = "see"
    PEOPLE = "people"
    WORK = "work"
    SEND = "send"
    EXPORT = "export"
    SPEND = "spend"
    OFFERS = "offers"
    MANAGE = "manage"


MEANINGS = {
    Permission.SEE: "See businesses, their findings and scores",
    Permission.PEOPLE: "See names, e-mail addresses, phone numbers and what was said",
    Permission.WORK: "Shortlist, call, note, correct and undo",
    Permission.SEND: "Send messages, share pages and proposals, publish websites",
    Permission.EXPORT: "Take lists out as files or on paper",
    Permission.SPEND: "Run sweeps and imports, which may cost money",
    Permission.OFFERS: "Change offers, message templates and sequences",
    Permission.MANAGE: "Change settings, keys and people’s accounts",
}

_CALLER = frozenset({Permission.SEE, Permission.PEOPLE, Permission.WORK, Permission.SEND})
ROLES: dict[str, frozenset[Permission]] = {
    "owner": frozenset(Permission),
    "manager": frozenset(Permission),
    "caller": _CALLER,
    "viewer": frozenset({Permission.SEE}),
}
"""Role → what it permits. A manager may do what an owner may, but not change owners."""


class RoleRefused(InvalidInput):
    """A role or a permission that there is none of, or that may not be given; the message says why."""

    where = "role"
    remedy = "choose among the roles and permissions that are offered"


def permissions_of(role: str, own: Collection[str] | None) -> frozenset[Permission]:
    """What a person may do: `own`, if a list was made for them, else what the role permits. An owner may do everything.

    Anybody who may do anything may see businesses. Raises RoleRefused.
    """
    if role not in ROLES:
        raise RoleRefused(f"there is no role {role!r}")
    if own is None or role == "owner":
        return ROLES[role]
    strange = set(own) - set(Permission)
    if strange:
        raise RoleRefused(f"there is no permission {min(strange)!r}")
    return frozenset(Permission(name) for name in own) | {Permission.SEE}


def within(scopes: Iterable[str], held: frozenset[Permission]) -> frozenset[Permission]:
    """What a token may do: its scopes, as far as the person whose it is may do so now."""
    return held.intersection(Permission(name) for name in scopes)
