"""The old website of a business, as far as it is its own: somebody else's pages, and a parked one, say nothing of it."""

import sqlite3

from openacorn.business.store import audits
from openacorn.business.store.audits import StoredEvidence
from openacorn.core.audit.evidence import Crawl
from openacorn.core.audit.extract.decode import decode_html


def own_crawl(conn: sqlite3.Connection, business_id: int, evidence: StoredEvidence | None) -> Crawl | None:
    """What an audit saw of it; None where there is no such website, or another's, or a parked page in its place."""
    if audits.site_belongs_to_another(conn, business_id):
        return None
    crawl = evidence.crawl if evidence else None
    return None if crawl is None or crawl.pages is None or crawl.pages.home.placeholder else crawl


def own_pages(conn: sqlite3.Connection, business_id: int) -> list[tuple[str, str]]:
    """(address, HTML) of its stored pages, by the shortest address first: the home page before those it leads to."""
    if own_crawl(conn, business_id, audits.get_evidence(conn, business_id)) is None:
        return []
    pages = sorted(audits.raw_pages(conn, business_id), key=lambda page: (len(page[0]), page[0]))
    return [(url, decode_html(body, kind)[0]) for url, kind, body in pages if "html" in kind.lower() or not kind]
