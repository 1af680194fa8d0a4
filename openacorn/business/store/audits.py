"""Audits: the evidence, its findings, the contacts and the opportunities that follow."""

import sqlite3
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any

import orjson
from pydantic import TypeAdapter

from openacorn.business.store import pictures, verifications
from openacorn.core.audit.evidence import Crawl
from openacorn.core.audit.finding import Finding
from openacorn.core.audit.offsite import DomainNames, PeopleSearch, SiteSearch
from openacorn.core.audit.verification import Verified
from openacorn.db.changes import next_change
from openacorn.db.compression import compress, decompress

_CRAWL = TypeAdapter(Crawl)
_FINDING = TypeAdapter(Finding)
_SEARCH: TypeAdapter[SiteSearch | None] = TypeAdapter(SiteSearch | None)
_NAMES: TypeAdapter[DomainNames | None] = TypeAdapter(DomainNames | None)
_PEOPLE: TypeAdapter[PeopleSearch | None] = TypeAdapter(PeopleSearch | None)

SAVE_AUDIT = """
INSERT OR REPLACE INTO audit (business_id, website, at, seconds, crawl, site_name, found, around) VALUES (?, ?, ?, ?, ?, ?, ?, ?)
"""
SAVE_PAGE = "INSERT OR REPLACE INTO raw_page (business_id, url, at, content_type, body) VALUES (?, ?, ?, ?, ?)"
SAVE_FINDING = """
INSERT OR REPLACE INTO finding (business_id, check_id, outcome, value, evidence, reason, crashed) VALUES (?, ?, ?, ?, ?, ?, ?)
"""
SAVE_CONTACT = "INSERT OR REPLACE INTO contact (business_id, kind, value, how, url, snippet) VALUES (?, ?, ?, ?, ?, ?)"
SAVE_OUTCOMES = "UPDATE business SET outcomes = ?, audited_at = ?, platform = ?, changed = ? WHERE id = ?"
MERGE_OUTCOMES = "UPDATE business SET outcomes = ?, changed = ? WHERE id = ?"
SAVE_TEXT = "INSERT INTO page_text (rowid, text) VALUES (?, ?)"
SAVE_SUMMARY = """
UPDATE business SET offer = ?, score = ?, value = ?, fit = ?, reach = ?, channels = ?, changed = ? WHERE id = ?
"""
SAVE_OFFER = """
UPDATE business SET offer = ?1, score = ?2, value = ?3, changed = ?4
WHERE id = ?5 AND (offer != ?1 OR score IS NOT ?2 OR value IS NOT ?3)
"""
AUDITED = "SELECT website, at, crawl, found, around FROM audit WHERE business_id = ?"
FINDINGS = "SELECT check_id, outcome, value, evidence, reason, crashed FROM finding WHERE business_id = ?"
CONTACTS = "SELECT kind, value, how, url, snippet FROM contact WHERE business_id = ? ORDER BY kind, value"
ADDRESSES_OF_TRADE = """
SELECT business.id, contact.value FROM business
LEFT JOIN contact ON contact.business_id = business.id AND contact.kind = 'email'
WHERE business.trade = ? AND business.rejected = '' AND business.outcomes LIKE '%"email_found":"%'
AND json_extract(business.outcomes, '$.email_found') IN ('ok', 'gap')
"""


@dataclass(frozen=True, slots=True)
class StoredAudit:
    """One audit as it comes from a worker. `crawl` and bodies are compressed; `contacts`: kind, value, how, url, snippet."""

    business_id: int
    website: str
    at: str
    seconds: float
    crawl: bytes | None
    pages: Sequence[tuple[str, str, str, bytes]]
    findings: Mapping[str, Finding]
    contacts: Sequence[tuple[str, str, str, str, str]]
    site_name: str = ""
    found: str = ""
    around: str = "{}"
    pictures: Sequence[tuple[str, bytes]] = ()
    verified: Sequence[Verified] = ()
    text: str = ""
    """What its pages say, for searching."""


def pack_crawl(crawl: Crawl) -> bytes:
    """The evidence as compressed JSON."""
    return compress(orjson.dumps(asdict(crawl)))


def unpack_crawl(data: bytes) -> Crawl:
    """The evidence out of compressed JSON."""
    return _CRAWL.validate_json(decompress(data))


def pack_offsite(search: SiteSearch | None, names: DomainNames | None, people: PeopleSearch | None = None) -> str:
    """The evidence that lies around a site, or instead of one, as JSON."""
    return orjson.dumps({"search": search, "names": names, "people": people}).decode()


def unpack_offsite(text: str) -> tuple[SiteSearch | None, DomainNames | None, PeopleSearch | None]:
    """The evidence out of JSON."""
    raw = orjson.loads(text)
    return (
        _SEARCH.validate_python(raw.get("search")),
        _NAMES.validate_python(raw.get("names")),
        _PEOPLE.validate_python(raw.get("people")),
    )


def save_audit(conn: sqlite3.Connection, audit: StoredAudit) -> None:
    """Replace all that is known of a business from its pages."""
    business = audit.business_id
    conn.execute(
        SAVE_AUDIT,
        (business, audit.website, audit.at, audit.seconds, audit.crawl, audit.site_name, audit.found, audit.around),
    )
    for table in ("raw_page", "finding", "contact"):
        conn.execute(f"DELETE FROM {table} WHERE business_id = ?", (business,))
    conn.executemany(SAVE_PAGE, ((business, *page) for page in audit.pages))
    verifications.upsert_verifications(conn, audit.verified)
    pictures.save_pictures(conn, business, audit.at, audit.pictures)
    conn.execute("DELETE FROM page_text WHERE rowid = ?", (business,))
    if audit.text:
        conn.execute(SAVE_TEXT, (business, audit.text))
    conn.executemany(SAVE_CONTACT, ((business, *contact) for contact in audit.contacts))
    save_findings(conn, business, audit.findings, audit.at)


def save_look(conn: sqlite3.Connection, look: StoredAudit, crawl: Crawl) -> None:
    """Replace the evidence of an audit by the same with a browser's look, and keep its pictures."""
    conn.execute("UPDATE audit SET crawl = ? WHERE business_id = ?", (pack_crawl(crawl), look.business_id))
    pictures.save_pictures(conn, look.business_id, look.at, look.pictures)


def save_findings(conn: sqlite3.Connection, business: int, findings: Mapping[str, Finding], at: str) -> None:
    """Keep the answers, and their outcomes on the wide row."""
    _save_rows(conn, business, findings)
    outcomes = orjson.dumps({check: str(finding.outcome) for check, finding in findings.items()}).decode()
    conn.execute(SAVE_OUTCOMES, (outcomes, at, _platform(findings), next_change(conn), business))


def _platform(findings: Mapping[str, Finding]) -> str:
    """What the site is made with, without its version; "" where it does not show."""
    found = findings.get("platform")
    made_with = found.value[0] if found and isinstance(found.value, list | tuple) and found.value else ""
    return str(made_with)


def _save_rows(conn: sqlite3.Connection, business: int, findings: Mapping[str, Finding]) -> None:
    rows = (
        (business, check, str(f.outcome), orjson.dumps(f.value).decode(), orjson.dumps([asdict(e) for e in f.evidence]).decode(),
         f.reason, int(f.crashed))
        for check, f in findings.items()
    )  # fmt: skip
    conn.executemany(SAVE_FINDING, rows)


def merge_findings(conn: sqlite3.Connection, business: int, findings: Mapping[str, Finding]) -> None:
    """Keep some answers beside those that are there."""
    row = conn.execute("SELECT outcomes FROM business WHERE id = ?", (business,)).fetchone()
    if row is None or not findings:
        return
    outcomes = orjson.loads(row["outcomes"]) | {check: str(finding.outcome) for check, finding in findings.items()}
    _save_rows(conn, business, findings)
    text = orjson.dumps(outcomes).decode()
    if text != row["outcomes"]:
        conn.execute(MERGE_OUTCOMES, (text, next_change(conn), business))


@dataclass(frozen=True, slots=True)
class StoredEvidence:
    """All that one audit of a website gathered."""

    website: str
    at: str
    crawl: Crawl | None
    found: str
    search: SiteSearch | None
    names: DomainNames | None
    people: PeopleSearch | None = None


def get_evidence(conn: sqlite3.Connection, business_id: int) -> StoredEvidence | None:
    """What the latest audit gathered, None if there was none."""
    row = conn.execute(AUDITED, (business_id,)).fetchone()
    if row is None:
        return None
    crawl = unpack_crawl(row["crawl"]) if row["crawl"] else None
    return StoredEvidence(row["website"], row["at"], crawl, row["found"], *unpack_offsite(row["around"]))


def with_people(conn: sqlite3.Connection, audit: StoredAudit) -> str:
    """What lies around an audit's site (JSON), with the people that a directory named before, where this audit did not ask it.

    Of another website it tells nothing: the directory is asked by domain.
    """
    around = orjson.loads(audit.around)
    row = conn.execute("SELECT website, around FROM audit WHERE business_id = ?", (audit.business_id,)).fetchone()
    if around.get("people") is None and row is not None and row["website"] == audit.website:
        around["people"] = orjson.loads(row["around"]).get("people")
    return orjson.dumps(around).decode()


def audited_ids(conn: sqlite3.Connection) -> list[int]:
    """Businesses that were audited, with evidence that can be judged again: an audit taken in from a file has none."""
    query = "SELECT business_id FROM audit WHERE crawl IS NOT NULL OR website = '' ORDER BY business_id"
    return [int(row[0]) for row in conn.execute(query)]


WEBSITES = "SELECT business_id, website, at FROM audit WHERE business_id IN (SELECT value FROM json_each(?))"


def audited_websites(conn: sqlite3.Connection, ids: Iterable[int]) -> dict[int, tuple[str, str]]:
    """Business → (website, when) of its latest audit, of those that have one."""
    found = conn.execute(WEBSITES, (orjson.dumps(list(ids)).decode(),))
    return {int(business_id): (str(website), str(at)) for business_id, website, at in found}


def site_name(conn: sqlite3.Connection, business_id: int) -> str:
    """What a business's site calls its owner, "" if it was not read or does not say."""
    row = conn.execute("SELECT site_name FROM audit WHERE business_id = ?", (business_id,)).fetchone()
    return str(row[0]) if row is not None else ""


def raw_pages(conn: sqlite3.Connection, business_id: int) -> list[tuple[str, str, bytes]]:
    """(address, content type, body) of each page as it was fetched."""
    rows = conn.execute(
        "SELECT url, content_type, body FROM raw_page WHERE business_id = ? ORDER BY url", (business_id,)
    )
    return [(str(url), str(kind), decompress(body)) for url, kind, body in rows]


def list_findings(conn: sqlite3.Connection, business_id: int) -> dict[str, Finding]:
    """Check id → finding."""
    return {
        row["check_id"]: _FINDING.validate_python(
            {
                "outcome": row["outcome"],
                "value": orjson.loads(row["value"]),
                "evidence": orjson.loads(row["evidence"]),
                "reason": row["reason"],
                "crashed": bool(row["crashed"]),
            }
        )
        for row in conn.execute(FINDINGS, (business_id,))
    }


def list_contacts(conn: sqlite3.Connection, business_id: int) -> list[dict[str, Any]]:
    """Contacts found on the business's pages, with where and how."""
    return [dict(row) for row in conn.execute(CONTACTS, (business_id,))]


def site_belongs_to_another(conn: sqlite3.Connection, business_id: int) -> bool:
    """Is the listed site known to be somebody else's? People and contacts named there are theirs, not the business's."""
    query = "SELECT 1 FROM finding WHERE business_id = ? AND check_id = 'site_ownership' AND outcome = 'gap'"
    return conn.execute(query, (business_id,)).fetchone() is not None


def list_own_contacts(conn: sqlite3.Connection, business_id: int) -> list[dict[str, Any]]:
    """As `list_contacts`, but nothing of a site that is somebody else's."""
    return [] if site_belongs_to_another(conn, business_id) else list_contacts(conn, business_id)


@dataclass(frozen=True, slots=True)
class ScoreSummary:
    """Where a business stands for the desk. fit, reach 0…1; channels: kinds of ways to reach it (core.scoring.reach.FLAGS)."""

    fit: float
    reach: float
    channels: Sequence[str]
    offer: str = ""
    score: int | None = None
    value: float | None = None


def save_score_summary(conn: sqlite3.Connection, business: int, summary: ScoreSummary) -> None:
    """Keep what scores are made of, and the best offer, on the wide row."""
    offer = (summary.offer, summary.score, summary.value)
    made_of = (summary.fit, summary.reach, orjson.dumps(list(summary.channels)).decode())
    conn.execute(SAVE_SUMMARY, (*offer, *made_of, next_change(conn), business))


def save_offers(conn: sqlite3.Connection, offers: Iterable[tuple[int, str, int | None, float | None]]) -> int:
    """Write best offers (business, service or "", score, value) made again for many; return how many differed from before."""
    number = next_change(conn)
    return sum(
        conn.execute(SAVE_OFFER, (offer, score, value, number, business)).rowcount
        for business, offer, score, value in offers
    )


def addresses_by_business(conn: sqlite3.Connection, trade: str) -> dict[int, list[str]]:
    """Businesses of a trade whose pages could be read → the addresses found there (an empty list where none)."""
    found: dict[int, list[str]] = {}
    for business_id, address in conn.execute(ADDRESSES_OF_TRADE, (trade,)):
        found.setdefault(business_id, []).extend([address] if address else [])
    return found


HAS_PEOPLE = "SELECT json_array_length(around, '$.people.people') > 0 FROM audit WHERE business_id = ?"


def has_directory_people(conn: sqlite3.Connection, business_id: int) -> bool:
    """Did a people directory put somebody at this business?"""
    row = conn.execute(HAS_PEOPLE, (business_id,)).fetchone()
    return bool(row and row[0])


PEOPLE_NAMED = (
    "SELECT evidence, value FROM finding WHERE business_id = ? AND check_id = 'people_named' AND outcome = 'ok'"
)
DIRECTORY_PEOPLE = "SELECT around FROM audit WHERE business_id = ?"


def first_person(conn: sqlite3.Connection, business_id: int) -> str:
    """ "Name, role" of the person named first on the pages, else of the first in a people directory; "" if nobody is known."""
    row = None if site_belongs_to_another(conn, business_id) else conn.execute(PEOPLE_NAMED, (business_id,)).fetchone()
    if row is not None and (named := orjson.loads(row["value"])):
        return str(named[0])
    row = conn.execute(DIRECTORY_PEOPLE, (business_id,)).fetchone()
    people = unpack_offsite(row["around"])[2] if row is not None else None
    return f"{people.people[0].name}, {people.people[0].role}" if people and people.people else ""
