"""Where websites are published, and what was."""

import sqlite3
from collections.abc import Mapping
from dataclasses import asdict, dataclass

import orjson

from openacorn.errors import NameTaken, NotFound

SAVE = """
INSERT INTO website_host (id, name, kind, address, account, host_key, branch)
VALUES (nullif(:id, 0), :name, :kind, :address, :account, :host_key, :branch)
ON CONFLICT (id) DO UPDATE SET name = excluded.name, kind = excluded.kind, address = excluded.address, account = excluded.account,
host_key = excluded.host_key, branch = excluded.branch RETURNING id
"""
OF = """
SELECT publication.id, host_id, website_host.name AS host, folder, begun_at, by, written, removed, finished_at, problem
FROM publication JOIN website_host ON website_host.id = host_id WHERE business_id = ? ORDER BY publication.id DESC LIMIT ?
"""
THERE = "SELECT business_id, files, finished_at FROM publication WHERE host_id = ? AND folder = ? ORDER BY id"
BEGIN = (
    "INSERT INTO publication (business_id, host_id, folder, begun_at, by, files) VALUES (?, ?, ?, ?, ?, ?) RETURNING id"
)
END = "UPDATE publication SET written = ?, removed = ?, finished_at = ?, problem = ? WHERE id = ?"
MOST_SHOWN = 20


@dataclass(frozen=True, slots=True)
class WebsiteHost:
    """id 0: not stored yet. kind: "folder", "sftp" or "git"; address: a path, sftp://host/path, or a repository's; host_key: that
    was confirmed, "" for kinds that need none; branch: of a repository."""

    id: int
    name: str
    kind: str
    address: str
    account: str = ""
    host_key: str = ""
    branch: str = ""

    @property
    def secret(self) -> str:
        """The name that its password or key is kept under."""
        return f"website host {self.id}"


@dataclass(frozen=True, slots=True)
class Publication:
    """A website that was published. written, removed: files; finished_at: "" if it goes on or broke off; problem: why it did."""

    id: int
    host_id: int
    host: str
    folder: str
    begun_at: str
    by: str
    written: int
    removed: int
    finished_at: str
    problem: str


@dataclass(frozen=True, slots=True)
class Published:
    """What we put at a place. businesses: whose; paths: all that may be there; hashes: path → SHA-256 of those that are
    there for certain."""

    businesses: frozenset[int]
    paths: frozenset[str]
    hashes: Mapping[str, str]


def list_hosts(conn: sqlite3.Connection) -> list[WebsiteHost]:
    """All hosts."""
    return [WebsiteHost(**dict(row)) for row in conn.execute("SELECT * FROM website_host ORDER BY name")]


def get_host(conn: sqlite3.Connection, number: int) -> WebsiteHost:
    """One host. Raises NotFound."""
    row = conn.execute("SELECT * FROM website_host WHERE id = ?", (number,)).fetchone()
    if row is None:
        raise NotFound(f"there is no host {number}")
    return WebsiteHost(**dict(row))


def save_host(conn: sqlite3.Connection, host: WebsiteHost) -> int:
    """Insert a host or change it; return its id. Raises NameTaken, NotFound."""
    if host.id:
        get_host(conn, host.id)
    try:
        return int(conn.execute(SAVE, asdict(host)).fetchone()[0])
    except sqlite3.IntegrityError:
        raise NameTaken(f"there is a host named {host.name} already") from None


def delete_host(conn: sqlite3.Connection, number: int) -> None:
    """Forget a host and what was published there; the files there stay. Raises NotFound."""
    get_host(conn, number)
    conn.execute("DELETE FROM website_host WHERE id = ?", (number,))


def list_publications(conn: sqlite3.Connection, business_id: int) -> list[Publication]:
    """The latest of a business, the newest first."""
    return [Publication(**dict(row)) for row in conn.execute(OF, (business_id, MOST_SHOWN))]


def get_published(conn: sqlite3.Connection, host_id: int, folder: str) -> Published:
    """What we put into a folder of a host."""
    owners, paths, hashes = set[int](), set[str](), dict[str, str]()
    for row in conn.execute(THERE, (host_id, folder)):
        files = orjson.loads(row["files"])
        owners.add(int(row["business_id"]))
        paths |= files.keys()
        # one that broke off has written some of its files, nobody knows which
        hashes = (
            files if row["finished_at"] else {path: hash_ for path, hash_ in hashes.items() if files.get(path) == hash_}
        )
    return Published(frozenset(owners), frozenset(paths), hashes)


def begin(
    conn: sqlite3.Connection, business_id: int, host_id: int, folder: str, at: str, by: str, files: Mapping[str, str]
) -> int:
    """Note what is about to be published, before the first file is; return its id."""
    values = (business_id, host_id, folder, at, by, orjson.dumps(files, option=orjson.OPT_SORT_KEYS).decode())
    return int(conn.execute(BEGIN, values).fetchone()[0])


def end(conn: sqlite3.Connection, number: int, written: int, removed: int, at: str, problem: str) -> None:
    """Note how it ended. at: "" if it broke off."""
    conn.execute(END, (written, removed, at, problem, number))
