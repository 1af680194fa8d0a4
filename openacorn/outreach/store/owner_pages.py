"""Owners' pages: a draft for the agency's eyes, the facts as they were shared, views, and what owners wrote back."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

import orjson
from pydantic import TypeAdapter

from openacorn.core.report.letterhead import Letterhead
from openacorn.core.report.owners_page import OwnersFacts
from openacorn.db.changes import touch
from openacorn.errors import NotFound

FACTS = TypeAdapter(OwnersFacts)
HEAD = TypeAdapter(Letterhead)

COLUMNS = "id, token, business_id, sections, draft, made_at, facts, shared_at, withdrawn_at, views, viewed_at"
LATEST = f"SELECT {COLUMNS} FROM owner_page WHERE business_id = ? AND withdrawn_at = '' ORDER BY id DESC LIMIT 1"
BY_ID = f"SELECT {COLUMNS} FROM owner_page WHERE id = ?"
BY_TOKEN = f"SELECT {COLUMNS} FROM owner_page WHERE token = ?"
OF = f"SELECT {COLUMNS} FROM owner_page WHERE business_id = ? ORDER BY id DESC LIMIT 1"
OPEN = """
SELECT business_id, token FROM owner_page WHERE shared_at != '' AND withdrawn_at = ''
AND id IN (SELECT max(id) FROM owner_page WHERE business_id IN (SELECT value FROM json_each(?)) GROUP BY business_id)
"""
ADD = "INSERT INTO owner_page (token, business_id, sections, draft, made_at) VALUES (?, ?, ?, ?, ?) RETURNING id"
REDRAFT = "UPDATE owner_page SET sections = ?, draft = ?, made_at = ? WHERE id = ?"
SHARE = "UPDATE owner_page SET facts = draft, shared_at = ? WHERE id = ?"
LIST = """
SELECT owner_page.id, token, business_id, name, town, made_at, shared_at, withdrawn_at, views, viewed_at,
  facts != '' AND facts != draft AS newer, (SELECT count(*) FROM reply WHERE page_id = owner_page.id) AS replies
FROM owner_page JOIN business ON business.id = business_id ORDER BY owner_page.id DESC LIMIT ?
"""
REPLIES = """
SELECT reply.id, page_id, business_id, business.name AS business, reply.at, reply.name, reply.reach, reply.text,
  suspect, done
FROM reply JOIN owner_page ON owner_page.id = page_id JOIN business ON business.id = business_id
ORDER BY done, suspect != '', reply.id DESC LIMIT ?
"""
DROP_PICTURES = """
DELETE FROM owner_picture WHERE page_id = ?1 AND hash NOT IN (
  SELECT coalesce(json_extract(draft, '$.look.picture'), '') FROM owner_page WHERE id = ?1
  UNION SELECT coalesce(json_extract(nullif(facts, ''), '$.look.picture'), '') FROM owner_page WHERE id = ?1)
"""
COUNT_REPLIES = "SELECT count(*) FROM reply WHERE page_id = ? AND at >= ? AND (suspect != '') = ?"
DROP_SUSPECT = "DELETE FROM reply WHERE id = (SELECT min(id) FROM reply WHERE page_id = ? AND suspect != '')"
ADD_REPLY = "INSERT INTO reply (page_id, at, name, reach, text, suspect) VALUES (?, ?, ?, ?, ?, ?)"


@dataclass(frozen=True, slots=True)
class OwnerPage:
    """One page. facts: as shared, None before the first time; draft: as last made."""

    id: int
    token: str
    business_id: int
    sections: tuple[str, ...]
    draft: OwnersFacts
    made_at: str
    facts: OwnersFacts | None
    shared_at: str
    withdrawn_at: str
    views: int
    viewed_at: str


@dataclass(frozen=True, slots=True)
class PageLine:
    """A page in the list of pages. newer: was it made again since it was shared?"""

    id: int
    token: str
    business_id: int
    name: str
    town: str
    made_at: str
    shared_at: str
    withdrawn_at: str
    views: int
    viewed_at: str
    newer: bool
    replies: int


@dataclass(frozen=True, slots=True)
class Reply:
    """What an owner wrote. reach: how to reach them, as written; suspect: why it may be a machine's, "" if it is not."""

    id: int
    page_id: int
    business_id: int
    business: str
    at: str
    name: str
    reach: str
    text: str
    suspect: str
    done: bool


def _page(row: sqlite3.Row) -> OwnerPage:
    given = dict(row)
    given["sections"] = tuple(orjson.loads(row["sections"]))
    given["draft"] = FACTS.validate_json(row["draft"])
    given["facts"] = FACTS.validate_json(row["facts"]) if row["facts"] else None
    return OwnerPage(**given)


def get_page(conn: sqlite3.Connection, page_id: int) -> OwnerPage:
    """One page. Raises NotFound."""
    row = conn.execute(BY_ID, (page_id,)).fetchone()
    if row is None:
        raise NotFound(f"there is no owner's page {page_id}")
    return _page(row)


def get_by_token(conn: sqlite3.Connection, token: str) -> OwnerPage | None:
    """The page at an address, None if there never was one."""
    row = conn.execute(BY_TOKEN, (token,)).fetchone()
    return None if row is None else _page(row)


def list_latest(conn: sqlite3.Connection, business_id: int) -> OwnerPage | None:
    """A business's latest page, also one that was withdrawn; None before one was made."""
    row = conn.execute(OF, (business_id,)).fetchone()
    return None if row is None else _page(row)


def open_tokens(conn: sqlite3.Connection, businesses: Sequence[int]) -> dict[int, str]:
    """Business → the token of its latest page, of those whose owners can open it now."""
    return {int(row[0]): str(row[1]) for row in conn.execute(OPEN, (orjson.dumps(list(businesses)).decode(),))}


def upsert_draft(
    conn: sqlite3.Connection, business_id: int, sections: Sequence[str], facts: OwnersFacts, at: str, token: str
) -> int:
    """Keep newly made facts as a business's draft; its page keeps its address, a first one gets `token`. Returns the page's id."""
    result, body = orjson.dumps(list(sections)).decode(), FACTS.dump_json(facts).decode()
    row = conn.execute(LATEST, (business_id,)).fetchone()
    if row is None:
        return int(conn.execute(ADD, (token, business_id, result, body, at)).fetchone()[0])
    conn.execute(REDRAFT, (result, body, at, row["id"]))
    return int(row["id"])


def put_picture(conn: sqlite3.Connection, page_id: int, key: str, picture: bytes) -> None:
    """Keep a picture that a page's draft shows; those that neither its draft nor what is shared shows are dropped."""
    conn.execute("INSERT OR IGNORE INTO owner_picture (page_id, hash, body) VALUES (?, ?, ?)", (page_id, key, picture))
    conn.execute(DROP_PICTURES, (page_id,))


def get_picture(conn: sqlite3.Connection, page_id: int, key: str) -> bytes | None:
    """A page's picture (WebP), None if there is none."""
    row = conn.execute("SELECT body FROM owner_picture WHERE page_id = ? AND hash = ?", (page_id, key)).fetchone()
    return None if row is None else bytes(row[0])


def set_sections(conn: sqlite3.Connection, page_id: int, sections: Sequence[str]) -> None:
    """Choose the parts of a page; what is shared changes with the draft, as the facts do not."""
    conn.execute("UPDATE owner_page SET sections = ? WHERE id = ?", (orjson.dumps(list(sections)).decode(), page_id))


def share(conn: sqlite3.Connection, page_id: int, at: str) -> None:
    """Show the draft at the page's address from now on."""
    conn.execute(SHARE, (at, page_id))


def withdraw(conn: sqlite3.Connection, page_id: int, at: str) -> None:
    """Close a page's address for good."""
    conn.execute("UPDATE owner_page SET withdrawn_at = ? WHERE id = ?", (at, page_id))


def count_views(conn: sqlite3.Connection, page_id: int, count: int, at: str) -> None:
    """The page was opened `count` more times, the last time at `at`."""
    conn.execute("UPDATE owner_page SET views = views + ?, viewed_at = ? WHERE id = ?", (count, at, page_id))


def list_pages(conn: sqlite3.Connection, most: int) -> tuple[list[PageLine], int]:
    """(the `most` newest pages, how many there are)."""
    found = [PageLine(**{**dict(row), "newer": bool(row["newer"])}) for row in conn.execute(LIST, (most,))]
    return found, int(conn.execute("SELECT count(*) FROM owner_page").fetchone()[0])


def add_reply(
    conn: sqlite3.Connection, page: OwnerPage, at: str, name: str, reach: str, text: str, suspect: str
) -> None:
    """Keep what an owner wrote."""
    conn.execute(ADD_REPLY, (page.id, at, name, reach, text, suspect))
    touch(conn, [page.business_id])


def count_replies(conn: sqlite3.Connection, page_id: int, since: str, *, suspect: bool) -> int:
    """How many replies of a page since a moment (ISO 8601) are suspected to be a machine's, or are not."""
    row = conn.execute(COUNT_REPLIES, (page_id, since, int(suspect))).fetchone()
    return int(row[0])


def drop_oldest_suspect(conn: sqlite3.Connection, page_id: int) -> None:
    """Delete a page's oldest suspected reply."""
    conn.execute(DROP_SUSPECT, (page_id,))


def list_replies(conn: sqlite3.Connection, most: int) -> tuple[list[Reply], int, int]:
    """(the `most` newest replies, those to be answered first; how many are to be answered; how many there are)."""
    found = [Reply(**{**dict(row), "done": bool(row["done"])}) for row in conn.execute(REPLIES, (most,))]
    left = conn.execute("SELECT count(*) FROM reply WHERE done = 0 AND suspect = ''").fetchone()[0]
    return found, int(left), int(conn.execute("SELECT count(*) FROM reply").fetchone()[0])


def mark_reply(conn: sqlite3.Connection, reply_id: int, *, done: bool) -> None:
    """Note that a reply was answered, or not. Raises NotFound."""
    if conn.execute("UPDATE reply SET done = ? WHERE id = ?", (int(done), reply_id)).rowcount == 0:
        raise NotFound(f"there is no reply {reply_id}")


def letterhead(conn: sqlite3.Connection) -> Letterhead | None:
    """The agency's letterhead, None before it was set."""
    row = conn.execute("SELECT told FROM letterhead").fetchone()
    return None if row is None else HEAD.validate_json(row["told"])


def put_letterhead(conn: sqlite3.Connection, head: Letterhead) -> None:
    """Keep the letterhead; its logo stays."""
    conn.execute(
        "INSERT INTO letterhead (one, told) VALUES (1, ?) ON CONFLICT (one) DO UPDATE SET told = excluded.told",
        (HEAD.dump_json(head).decode(),),
    )


def logo(conn: sqlite3.Connection) -> bytes | None:
    """The agency's logo as PNG, None if there is none."""
    row = conn.execute("SELECT logo FROM letterhead").fetchone()
    return None if row is None or row["logo"] is None else bytes(row["logo"])


def put_logo(conn: sqlite3.Connection, body: bytes | None) -> None:
    """Keep a logo (PNG), or none. There must be a letterhead."""
    conn.execute("UPDATE letterhead SET logo = ?", (body,))
