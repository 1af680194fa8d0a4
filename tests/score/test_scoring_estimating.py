"""Scores and estimates from the store alone."""

import json
import sqlite3

import pytest

from openacorn.audit.auditor import AuditTask, Gathered, evaluate_crawl
from openacorn.audit.pool import decode
from openacorn.audit.worker import encode
from openacorn.business.snapshot import grid_row
from openacorn.business.store import audits, businesses, listings
from openacorn.core.audit.assemble import assemble
from openacorn.core.audit.check import run_checks
from openacorn.core.audit.evidence import Crawl, ListingFacts, Pages, Visit
from openacorn.core.audit.extract.page import read_page
from openacorn.core.desk.scored_grid import ScoredGrid
from openacorn.core.gather.listing import Listing
from openacorn.db.database import Database
from openacorn.gather.estimate import BASIS_WORDS, SweepEstimate, estimate, held_points
from openacorn.gather.store import places
from openacorn.match.merging import merge_new_listings
from openacorn.net.probes.notes import RawPage
from openacorn.runs.store import sweeps, tasks
from openacorn.runs.store.sweeps import Plan
from openacorn.score.scorer import Scorer, score_unscored
from openacorn.settings import Settings
from tests.conftest import circle

SETTINGS = Settings(region="AU")
PLAN = Plan(("vets",), (circle(-37.0, 160.0, 9000),))
HTML = (
    "<title>Harbour Vets in Port Ellery</title><p>"
    + "Kind care for cats. " * 20
    + "</p><a href='mailto:info@harbour.example'>write</a>"
)
PLAN_TEXT = json.dumps({"trades": ["vets"], "lat": -37.0, "lon": 160.0, "radius_m": 9000, "wanted": 0})
AT = "2026-09-01T00:00:00+00:00"


def crawl(html: str | None) -> Crawl:
    visit = Visit(
        "https://harbour.example/", "https://harbour.example/", AT, ("https://harbour.example/",), 200 if html else 403
    )
    return Crawl(visit, Pages(read_page(html, visit.url, AT, "AU")) if html else None, seconds=0.5)


def town(conn: sqlite3.Connection, count: int) -> list[int]:
    run = sweeps.add_run(conn, sweeps.add_sweep(conn, "s", PLAN_TEXT, AT), AT)
    rows = [
        Listing("listing_service", str(n), f"Practice {'ABCDEFGHIJKLMNOP'[n]} Vets", "Veterinarian", -37.0 + n / 500, 160.0, phone=f"(03) 5550 {n:04d}", website=f"https://p{n}.example/", reviews=n)
        for n in range(count)
    ]  # fmt: skip
    put = listings.put_listings(conn, run, "vets", rows, AT)
    sweeps.set_state(conn, run, "done", at=AT)
    return sorted(merge_new_listings(conn, put.to_merge, SETTINGS))


def audited(conn: sqlite3.Connection, business: int, html: str | None) -> None:
    found = crawl(html)
    pages = [RawPage("https://harbour.example/", AT, "text/html", (html or "").encode())] if html else []
    audits.save_audit(
        conn,
        evaluate_crawl(
            AuditTask(business, "Harbour Vets", "https://harbour.example/", "s", AT), Gathered(found, tuple(pages))
        ),
    )


def test_the_trades_average_stands_in_only_where_the_audit_could_not_look(database: Database) -> None:
    with database.write() as conn:
        ids = town(conn, 12)
        for business in ids[:10]:
            audited(conn, business, HTML)
        audited(conn, ids[10], None)
        Scorer(conn).score(ids)
        _, _, reach = Scorer(conn).inputs(businesses.get_business(conn, ids[10]))
        assumed = [channel for channel in reach.used if channel.assumed]
        assert [channel.r for channel in assumed] == [pytest.approx(0.2)]  # ten of ten have a role address
        _, _, seen = Scorer(conn).inputs(businesses.get_business(conn, ids[0]))
        assert not any(channel.assumed for channel in seen.used)
        _, _, never = Scorer(conn).inputs(businesses.get_business(conn, ids[11]))
        assert not any(channel.assumed for channel in never.used)


def test_fit_ranks_among_the_trades_peers_and_the_wide_row_holds_the_best_offer(database: Database) -> None:
    with database.write() as conn:
        ids = town(conn, 12)
        for business in ids:
            audited(conn, business, HTML)
        Scorer(conn).score(ids)
        fits = [Scorer(conn).inputs(row)[1].value for row in businesses.get_businesses(conn, ids)]
        assert fits == sorted(fits)
        assert fits[0] < 0.1 < 0.9 < fits[-1]
        for row in businesses.get_businesses(conn, ids):
            offers = {item.service: item for item in Scorer(conn).opportunities(row)[0]}
            best = offers[row["offer"]]
            assert (best.score, best.value) == (row["score"], row["value"])
            assert best.value == max(item.value or 0 for item in offers.values() if item.need.value >= 0.3)


def test_whoever_an_older_version_scored_is_scored_anew_once(database: Database) -> None:
    with database.write() as conn:
        ids = town(conn, 3)
        for business in ids[:2]:
            audited(conn, business, HTML)
    assert score_unscored(database) == 2  # of the third nothing is known
    with database.read() as conn:
        assert [row["fit"] is None for row in businesses.get_businesses(conn, ids)] == [False, False, True]
    assert score_unscored(database) == 0


def test_checks_run_again_from_the_store_say_the_same(database: Database) -> None:
    with database.write() as conn:
        (business,) = town(conn, 1)
        audited(conn, business, HTML)
        stored = audits.get_evidence(conn, business)
        assert stored is not None
        again = run_checks(assemble(ListingFacts("Harbour Vets", stored.website, "s", AT), stored.crawl))
        assert again == audits.list_findings(conn, business)


def test_an_audit_survives_the_way_from_a_worker() -> None:
    pages = [RawPage("https://harbour.example/", AT, "text/html", b"\xff\x00 bytes")]
    sent = evaluate_crawl(
        AuditTask(7, "Harbour Vets", "https://harbour.example/", "s", AT), Gathered(crawl(HTML), tuple(pages))
    )
    came = decode(encode(sent))
    assert (came.business_id, came.crawl, came.pages[0][3]) == (7, sent.crawl, sent.pages[0][3])
    assert came.findings == sent.findings
    assert list(came.contacts) == list(sent.contacts)


PORT = {
    "name": "Port Ellery",
    "within": "Tarrow Coast",
    "kind": "town",
    "lat": -37.0,
    "lon": 160.0,
    "residents": 10_000,
    "radius_km": 5,
}
FAR = {**PORT, "name": "Quillhaven", "lat": -36.5, "residents": 5_000}


def estimated(conn: sqlite3.Connection, plan: Plan) -> SweepEstimate:
    grid = ScoredGrid(("title",))
    grid.put(grid_row(row, {}) for row in businesses.get_businesses(conn, businesses.ids_of_run(conn, 1)))
    return estimate(conn, plan, SETTINGS, held_points(grid))


def test_an_estimate_starts_from_a_national_rate_and_learns_from_what_is_held(database: Database) -> None:
    with database.write() as conn:
        places.replace_places(conn, [PORT, FAR])
        before = estimated(conn, PLAN)
        assert before.trades[0].basis == BASIS_WORDS["prior"]
        assert before.low < before.rows < before.high
        town(conn, 12)
        here = estimated(conn, PLAN)
        assert (here.rows, here.trades[0].basis, here.trades[0].held) == (12, BASIS_WORDS["held"], 12)
        there = estimated(conn, Plan(("vets",), (circle(-36.5, 160.0, 9000),)))
        assert (there.rows, there.trades[0].basis) == (6, BASIS_WORDS["own rate"])  # 12 per 10,000, of 5,000
        other = estimated(conn, Plan(("florists",), (circle(-37.0, 160.0, 9000),)))
        assert other.rows > before.rows  # a trade never swept is lifted as the swept one was
        assert other.high - other.low > here.high - here.low


def test_requests_are_foreseen_by_what_the_last_run_took(database: Database) -> None:
    """A source that took many more questions than its rows would let expect takes many again; one run is not all it may take."""
    with database.write() as conn:
        places.replace_places(conn, [PORT, FAR])
        town(conn, 12)
        before = estimated(conn, PLAN)
        run = sweeps.add_run(conn, sweeps.add_sweep(conn, "x", sweeps.plan_to_json(PLAN), AT), AT)
        tasks.add_tasks(conn, run, "query", ((f"q{n}", "{}") for n in range(30)), lane="listing_service")
        for unit in tasks.claim(conn, run, "query", 30, lane="listing_service"):
            tasks.finish(conn, unit.id, 2)
        sweeps.add_requests(conn, run, "listing_service", 33, 3, 0.0)
        sweeps.set_state(conn, run, "done", at=AT)
        after = estimated(conn, PLAN)
    assert before.requests < 10
    assert before.requests_high >= 2 * before.requests
    assert 33 * 0.6 <= after.requests <= 33 * 1.2
    assert after.requests_low <= after.requests <= after.requests_high
