"""Pictures of sites, as a browser showed them."""

import sqlite3
from collections.abc import Iterable
from typing import Any

import orjson

from openacorn.db.at_once import rows_at_once

SAVE_PICTURE = "INSERT OR REPLACE INTO screenshot (business_id, kind, at, body) VALUES (?, ?, ?, ?)"
PICTURED = (
    "(SELECT business_id, at FROM screenshot WHERE kind = 'desk' AND business_id IN (SELECT value FROM json_each(?1)))"
)
WORTH_A_LOOK = """
SELECT id, business.website FROM business JOIN audit ON audit.business_id = business.id
WHERE id IN (SELECT listing.business_id FROM seen JOIN listing ON listing.id = seen.listing_id WHERE seen.run_id = ?)
AND rejected = '' AND relationship = '' AND value IS NOT NULL AND business.website != '' AND audit.website = business.website
AND json_extract(outcomes, '$.answers') IN ('ok', 'partial') AND json_extract(outcomes, '$.real_site') IN ('ok', 'unknown')
AND NOT EXISTS (SELECT 1 FROM screenshot WHERE screenshot.business_id = business.id AND screenshot.at >= audit.at)
ORDER BY value DESC, id LIMIT ?
"""


def save_pictures(conn: sqlite3.Connection, business_id: int, at: str, pictures: Iterable[tuple[str, bytes]]) -> None:
    """Keep (kind, WebP) of a business's site in place of those of the same kind."""
    conn.executemany(SAVE_PICTURE, ((business_id, kind, at, body) for kind, body in pictures))


def worth_a_look(conn: sqlite3.Connection, run_id: int, most: int) -> list[dict[str, Any]]:
    """(id, website) of a run's businesses that a browser should open: the best offers first, of those with a site that answers and
    no pictures since it was audited."""
    return [dict(row) for row in conn.execute(WORTH_A_LOOK, (run_id, most))]


def list_pictures(conn: sqlite3.Connection, business_id: int) -> list[tuple[str, str]]:
    """(kind, when) of the pictures of a business's site: "phone", "desk"."""
    rows = conn.execute("SELECT kind, at FROM screenshot WHERE business_id = ? ORDER BY kind DESC", (business_id,))
    return [(str(row["kind"]), str(row["at"])) for row in rows]


def pictured(conn: sqlite3.Connection, ids: Iterable[int]) -> dict[int, str]:
    """Business → when its site was last photographed, of those of which there are pictures."""
    wanted = orjson.dumps(list(ids)).decode()
    return {int(business): str(at) for business, at in rows_at_once(conn, "business_id, at", PICTURED, (wanted,))}


def get_picture(conn: sqlite3.Connection, business_id: int, kind: str) -> bytes | None:
    """A picture (WebP), None if there is none."""
    query = "SELECT body FROM screenshot WHERE business_id = ? AND kind = ?"
    row = conn.execute(query, (business_id, kind)).fetchone()
    return bytes(row[0]) if row is not None else None
