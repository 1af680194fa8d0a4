"""Pictures of old websites: fetched, prepared, and whether their owners agreed."""

import sqlite3
from dataclasses import dataclass

from openacorn.core.starter.pictures import FoundPicture, PreparedPicture
from openacorn.errors import NotFound

COLUMNS = "id, url, page, alt, logo, width, height, fetched_at, agreed_at, agreed_by"
OF = f"""
SELECT {COLUMNS}, (SELECT group_concat(DISTINCT width) FROM starter_picture_file WHERE picture_id = starter_picture.id) AS widths
FROM starter_picture WHERE business_id = ? ORDER BY id
"""
PUT = """
INSERT INTO starter_picture (business_id, url, page, alt, logo, width, height, fetched_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?)
ON CONFLICT (business_id, url) DO UPDATE SET width = excluded.width, height = excluded.height, fetched_at = excluded.fetched_at
RETURNING id
"""
FILE = """
SELECT body FROM starter_picture_file JOIN starter_picture ON starter_picture.id = picture_id
WHERE business_id = ? AND picture_id = ? AND starter_picture_file.width = ? AND form = ?
"""


@dataclass(frozen=True, slots=True)
class StoredPicture:
    """A picture that was fetched. width, height: of its widest file; widths: of its files, rising; agreed_at: "" without consent of
    the owner."""

    id: int
    url: str
    page: str
    alt: str
    logo: bool
    width: int
    height: int
    fetched_at: str
    agreed_at: str
    agreed_by: str
    widths: tuple[int, ...]


def list_pictures(conn: sqlite3.Connection, business_id: int) -> list[StoredPicture]:
    """Pictures of a business, in the order in which they were fetched."""
    return [
        StoredPicture(**{
            **dict(row), "logo": bool(row["logo"]),
            "widths": tuple(sorted(int(width) for width in str(row["widths"] or "").split(",") if width)),
        })
        for row in conn.execute(OF, (business_id,))
    ]  # fmt: skip


def save_picture(
    conn: sqlite3.Connection, business_id: int, found: FoundPicture, prepared: PreparedPicture, at: str
) -> None:
    """Keep a picture's files in place of those that it had."""
    values = (business_id, found.url, found.page, found.alt, found.logo, prepared.width, prepared.height, at)
    (number,) = conn.execute(PUT, values).fetchone()
    conn.execute("DELETE FROM starter_picture_file WHERE picture_id = ?", (number,))
    conn.executemany(
        "INSERT INTO starter_picture_file (picture_id, width, form, body) VALUES (?, ?, ?, ?)",
        ((number, width, form, body) for (width, form), body in prepared.files.items()),
    )


def get_file(conn: sqlite3.Connection, business_id: int, picture_id: int, width: int, form: str) -> bytes:
    """A file of a picture of this business. Raises NotFound."""
    row = conn.execute(FILE, (business_id, picture_id, width, form)).fetchone()
    if row is None:
        raise NotFound(f"business {business_id} has no such picture")
    return bytes(row["body"])


def set_agreed(conn: sqlite3.Connection, business_id: int, at: str, by: str) -> None:
    """Note that the owner agreed to all pictures that there are; at "": that they did not."""
    conn.execute("UPDATE starter_picture SET agreed_at = ?, agreed_by = ? WHERE business_id = ?", (at, by, business_id))
