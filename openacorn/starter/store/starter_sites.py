"""New websites, begun: the draft, its versions, what is shared, and views."""

import sqlite3
from dataclasses import dataclass

from pydantic import TypeAdapter

from openacorn.core.starter.draft import SiteDraft
from openacorn.errors import NotFound

DRAFT = TypeAdapter(SiteDraft)
COLUMNS = "id, business_id, token, draft, hue, made_at, shared, shared_at, withdrawn_at, views, viewed_at"
OF = f"SELECT {COLUMNS} FROM starter_site WHERE business_id = ?"
BY_TOKEN = f"SELECT {COLUMNS} FROM starter_site WHERE token = ?"
PUT = """
INSERT INTO starter_site (business_id, token, draft, hue, made_at) VALUES (?, ?, ?, ?, ?)
ON CONFLICT (business_id) DO UPDATE SET draft = excluded.draft, hue = excluded.hue, made_at = excluded.made_at RETURNING id
"""
ADD_VERSION = """
INSERT INTO starter_version (site_id, number, at, by, draft)
VALUES (?1, (SELECT coalesce(max(number), 0) + 1 FROM starter_version WHERE site_id = ?1), ?2, ?3, ?4)
"""
VERSIONS = "SELECT number, at, by FROM starter_version WHERE site_id = ? ORDER BY number DESC"
VERSION = "SELECT draft FROM starter_version WHERE site_id = ? AND number = ?"
SHARE = "UPDATE starter_site SET shared = draft, shared_at = ?, withdrawn_at = '', token = ? WHERE id = ?"
COUNT = "UPDATE starter_site SET views = views + ?, viewed_at = ? WHERE id = ?"


@dataclass(frozen=True, slots=True)
class StarterSite:
    """One website. shared: as it was shared, None before that."""

    id: int
    business_id: int
    token: str
    draft: SiteDraft
    hue: float | None
    made_at: str
    shared: SiteDraft | None
    shared_at: str
    withdrawn_at: str
    views: int
    viewed_at: str


@dataclass(frozen=True, slots=True)
class SiteVersion:
    """A state of the draft that was saved."""

    number: int
    at: str
    by: str


def _site(row: sqlite3.Row | None) -> StarterSite | None:
    if row is None:
        return None
    given = dict(row)
    given["draft"] = DRAFT.validate_json(row["draft"])
    given["shared"] = DRAFT.validate_json(row["shared"]) if row["shared"] else None
    return StarterSite(**given)


def find_site(conn: sqlite3.Connection, business_id: int) -> StarterSite | None:
    """The website begun for a business, None before that."""
    return _site(conn.execute(OF, (business_id,)).fetchone())


def get_site(conn: sqlite3.Connection, business_id: int) -> StarterSite:
    """The website begun for a business. Raises NotFound."""
    found = find_site(conn, business_id)
    if found is None:
        raise NotFound(f"no website was begun for business {business_id}")
    return found


def get_by_token(conn: sqlite3.Connection, token: str) -> StarterSite | None:
    """The website at an address, None if there never was one."""
    return _site(conn.execute(BY_TOKEN, (token,)).fetchone())


def save_draft(
    conn: sqlite3.Connection, business_id: int, draft: SiteDraft, hue: float | None, token: str, at: str, by: str
) -> None:
    """Save a draft as its next version. token: of a site that is not there yet; one that is keeps its own."""
    text = DRAFT.dump_json(draft).decode()
    (number,) = conn.execute(PUT, (business_id, token, text, hue, at)).fetchone()
    conn.execute(ADD_VERSION, (number, at, by, text))


def list_versions(conn: sqlite3.Connection, site_id: int) -> list[SiteVersion]:
    """Every saved state, the newest first."""
    return [SiteVersion(**dict(row)) for row in conn.execute(VERSIONS, (site_id,))]


def get_version(conn: sqlite3.Connection, site_id: int, number: int) -> SiteDraft:
    """A saved state. Raises NotFound."""
    row = conn.execute(VERSION, (site_id, number)).fetchone()
    if row is None:
        raise NotFound(f"there is no version {number} of this website")
    return DRAFT.validate_json(row["draft"])


def share(conn: sqlite3.Connection, site_id: int, at: str, token: str) -> None:
    """Show the draft as it stands at an address."""
    conn.execute(SHARE, (at, token, site_id))


def withdraw(conn: sqlite3.Connection, site_id: int, at: str) -> None:
    """Close the address."""
    conn.execute("UPDATE starter_site SET withdrawn_at = ? WHERE id = ?", (at, site_id))


def set_hue(conn: sqlite3.Connection, business_id: int, hue: float) -> None:
    """Take another colour for a website. hue: 0…1."""
    conn.execute("UPDATE starter_site SET hue = ? WHERE business_id = ?", (hue, business_id))


def count_views(conn: sqlite3.Connection, site_id: int, count: int, at: str) -> None:
    """Add views."""
    conn.execute(COUNT, (count, at, site_id))
