"""What an audit leaves in the store, and what the wide row makes of it."""

import json

import orjson
import pytest

from openacorn.business.store import audits, businesses
from openacorn.business.store.audits import StoredAudit, pack_crawl, unpack_crawl
from openacorn.core.audit.evidence import Certificate, Crawl, FileKind, Pages, TlsProblem, Visit, Weighed, Weights
from openacorn.core.audit.extract.page import read_page
from openacorn.core.audit.finding import Evidence, gap, ok, unknown
from openacorn.db import changes
from openacorn.db.database import Database
from openacorn.gather.store import places

AT = "2026-09-01T00:00:00+00:00"
URL = "https://harbour.example/"
SHOWN = Evidence(URL, AT, "<title>")
FINDINGS = {
    "title": gap(None, "no title", SHOWN),
    "headings": ok(["a", "b"], "fine"),
    "viewport": unknown("not seen", value=3.5),
}


def stored(**changes: object) -> StoredAudit:
    values = {
        "business_id": 1, "website": URL, "at": AT, "seconds": 0.5, "crawl": None, "pages": [(URL, AT, "text/html", b"x")],
        "findings": FINDINGS, "contacts": [("email", "jo@harbour.example", "link", URL, "mailto:")],
    }  # fmt: skip
    return StoredAudit(**{**values, **changes})  # type: ignore[arg-type]


@pytest.fixture
def held(database: Database) -> Database:
    with database.write() as conn:
        conn.execute("INSERT INTO business (id, name, trade, changed) VALUES (1, 'Harbour Vets', 'vets', 1)")
    return database


def test_evidence_survives_compression_with_every_kind_of_part() -> None:
    page = read_page(
        "<title>Núñera</title><h1>x</h1><img src=a.jpg><a href=mailto:jo@a.example>w</a>"
        + "<script src=/a.js></script>" * 3,
        URL,
        AT,
        "AU",
    )
    crawl = Crawl(
        Visit(
            URL,
            URL,
            AT,
            (URL,),
            200,
            certificate=Certificate(TlsProblem.EXPIRED, "expired", "I", AT),
            https_elsewhere=None,
        ),
        Pages(page, (page,), (("about", URL + "about"),)),
        Weights(100, (Weighed(URL + "a.jpg", FileKind.IMAGE, False, None),), 2),
        1.25,
        "stopped after 25 s",
    )
    assert unpack_crawl(pack_crawl(crawl)) == crawl


def test_a_second_audit_replaces_the_first_whole(held: Database) -> None:
    with held.write() as conn:
        audits.save_audit(conn, stored())
        audits.save_audit(conn, stored(findings={"title": ok("Harbour", "fine")}, contacts=[], pages=[]))
    with held.read() as conn:
        assert {check: str(f.outcome) for check, f in audits.list_findings(conn, 1).items()} == {"title": "ok"}
        assert audits.list_contacts(conn, 1) == []
        assert conn.execute("SELECT count(*) FROM raw_page").fetchone()[0] == 0
        assert orjson.loads(businesses.get_business(conn, 1)["outcomes"]) == {"title": "ok"}


def test_findings_come_back_as_they_went(held: Database) -> None:
    with held.write() as conn:
        audits.save_audit(conn, stored())
    with held.read() as conn:
        assert audits.list_findings(conn, 1) == FINDINGS
        assert audits.audited_websites(conn, [1, 2]) == {1: (URL, AT)}
        assert audits.get_evidence(conn, 1) == audits.StoredEvidence(URL, AT, None, "", None, None)
        assert audits.get_evidence(conn, 2) is None


def test_where_a_business_stands_is_on_the_wide_row_and_offers_made_anew_are_written_only_where_they_differ(
    held: Database,
) -> None:
    with held.write() as conn:
        audits.save_score_summary(conn, 1, audits.ScoreSummary(0.4, 0.6, ["email"], "speed", 41, 12.5))
        before = changes.current_change(conn)
        assert audits.save_offers(conn, [(1, "speed", 41, 12.5)]) == 0
        row = businesses.get_business(conn, 1)
        assert (row["changed"] <= before, row["fit"], row["reach"], row["channels"]) == (True, 0.4, 0.6, '["email"]')
        assert audits.save_offers(conn, [(1, "", None, None)]) == 1
    with held.read() as conn:
        row = businesses.get_business(conn, 1)
    assert (row["offer"], row["score"], row["value"], row["fit"]) == ("", None, None, 0.4)


def test_what_belongs_to_a_business_goes_with_it(held: Database) -> None:
    with held.write() as conn:
        audits.save_audit(conn, stored())
        conn.execute("DELETE FROM business WHERE id = 1")
        for table in ("audit", "raw_page", "finding", "contact"):
            assert conn.execute(f"SELECT count(*) FROM {table}").fetchone()[0] == 0, table


@pytest.mark.parametrize(
    ("typed", "first"),
    [
        ("port", "Port Ellery"),
        ("ELLERY", "Port Ellery"),
        ("ll", "Port Ellery"),
        ("100%", "100% Point"),
        ("_", None),
        ("zzz", None),
    ],
)
def test_places_are_found_as_typed(database: Database, typed: str, first: str | None) -> None:
    rows = [
        {
            "name": name,
            "within": "Tarrow Coast",
            "kind": "town",
            "lat": -37.0,
            "lon": 160.0,
            "residents": residents,
            "radius_km": 1,
        }
        for name, residents in (("Pellbridge", 11_000), ("Port Ellery", 82_000), ("100% Point", 5))
    ]
    with database.write() as conn:
        places.replace_places(conn, json.loads(json.dumps(rows)))
    with database.read() as conn:
        found = places.search_places(conn, typed, 5)
    assert (found[0].name if found else None) == first
