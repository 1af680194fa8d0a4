"""Settling goes on beside other writers: they have their turn in between, and what they wrote meanwhile stands."""

import contextlib
import sqlite3
from collections.abc import Callable, Iterator
from dataclasses import replace

import pytest

from openacorn.business.store import businesses, decisions, listings, relationships, verdicts
from openacorn.core.gather.listing import Listing
from openacorn.core.match.relationship import identifiers_in
from openacorn.db.database import Database
from openacorn.match import recluster
from openacorn.match.merging import merge_new_listings
from openacorn.runs.store import sweeps, tasks
from openacorn.runs.store.sweeps import Plan
from openacorn.settings import Settings
from tests.conftest import circle

SETTINGS = Settings(region="AU", home=(-37.0, 160.0))
AT = "2026-09-01T00:00:00+00:00"
PLAN = Plan(("florists",), (circle(-37.0, 160.0, 5000),))
GULL = Listing(
    "map_data", "1", "Gull Florist", "Florist", -37.0, 160.0, "14 Mill Lane", "Port Ellery", "7801", "(03) 5550 1234"
)
TWIN = replace(GULL, source="directory:1", source_id="2", name="GULL FLORISTS", reviews=9)


def put(conn: sqlite3.Connection, *rows: Listing, plan: Plan = PLAN) -> tuple[int, tuple[int, ...]]:
    """Listings as a run has received them, not yet merged: (the run, what is to be merged)."""
    run = sweeps.add_run(conn, sweeps.add_sweep(conn, "s", sweeps.plan_to_json(plan), AT), AT)
    return run, listings.put_listings(conn, run, "florists", rows, AT).to_merge


def groups(database: Database) -> list[list[str]]:
    """The listings of each business, by their ids at the source."""
    with database.read() as conn:
        by_business = listings.by_business(conn)
        return sorted(sorted(item.listing.source_id for item in members) for _, members in by_business)


def meanwhile(monkeypatch: pytest.MonkeyPatch, database: Database, act: Callable[[sqlite3.Connection], object]) -> None:
    """Have somebody else write once, between what settling reads and the first thing that it writes."""
    write = database.write
    done: list[bool] = []

    @contextlib.contextmanager
    def after_another() -> Iterator[sqlite3.Connection]:
        if not done:
            done.append(True)
            with write() as conn:
                act(conn)
        with write() as conn:
            yield conn

    monkeypatch.setattr(database, "write", after_another)


def test_two_that_are_one_are_merged_unless_somebody_says_otherwise_meanwhile(
    database: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    with database.write() as conn:
        put(conn, GULL, TWIN)
    meanwhile(monkeypatch, database, lambda conn: decisions.decide(conn, [1], [2], "two", AT))
    recluster.recluster(database, SETTINGS)
    assert groups(database) == [["1"], ["2"]]
    with database.write() as conn:
        decisions.undecide(conn, [1], [2])
    recluster.recluster(database, SETTINGS)
    assert groups(database) == [["1", "2"]]


def test_a_listing_that_another_run_renewed_meanwhile_is_merged_as_it_is_then(
    database: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    with database.write() as conn:
        put(conn, GULL, TWIN)
    moved = replace(
        TWIN, name="Salt Road Flowers", street="80 Salt Road", phone="(03) 5550 9876", lat=-37.02, postcode="7802"
    )

    def renew(conn: sqlite3.Connection) -> None:
        merge_new_listings(conn, put(conn, moved)[1], SETTINGS)

    meanwhile(monkeypatch, database, renew)
    recluster.recluster(database, SETTINGS)
    assert groups(database) == [["1"], ["2"]]
    with database.read() as conn:
        names = {row["name"] for row in businesses.all_businesses(conn)}
    assert names == {"Gull Florist", "Salt Road Flowers"}


def test_what_became_of_a_business_meanwhile_is_not_written_over(
    database: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    with database.write() as conn:
        merge_new_listings(conn, put(conn, GULL)[1], SETTINGS)
        conn.execute("UPDATE business SET relationship = 'client', rejected = 'an old reason'")  # so that it is judged

    def refuse(conn: sqlite3.Connection) -> None:
        marks, _ = identifiers_in("(03) 5550 1234", "AU")
        relationships.insert_relationships(conn, "refused", marks, AT)
        verdicts.upsert_verdict(conn, [1], "rejected", "not for us", AT)

    meanwhile(monkeypatch, database, refuse)
    recluster.refresh_relevance(database, SETTINGS)
    with database.read() as conn:
        row = businesses.get_business(conn, 1)
    assert (row["relationship"], row["rejected"]) == ("refused", "by hand: not for us")


def test_no_transaction_of_a_settling_is_larger_than_a_piece(
    database: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    """200 businesses that are all made, judged and queued: others wait for 20 of them at the most."""
    rows = [
        replace(
            GULL,
            source_id=str(number),
            name=f"Florist {number}",
            phone=f"(03) 5550 {number:04}",
            street=f"{number} Row",
        )
        for number in range(200)
    ]
    with database.write() as conn:
        run, _ = put(conn, *rows, plan=replace(PLAN, facts=("website",)))
    monkeypatch.setattr(recluster, "AT_ONCE", 20)
    sizes = []
    write = database.write

    @contextlib.contextmanager
    def counted() -> Iterator[sqlite3.Connection]:
        with write() as conn:
            before = held_and_queued(conn)
            yield conn
            sizes.append(held_and_queued(conn) - before)

    def held_and_queued(conn: sqlite3.Connection) -> int:
        held = sum(1 for _ in businesses.all_businesses(conn))
        return held + tasks.counts(conn, run).get(("audit", "ready"), 0)

    monkeypatch.setattr(database, "write", counted)
    recluster.recluster_run(database, run, SETTINGS)
    assert (sum(sizes), max(sizes)) == (400, 20)


def test_a_settling_that_finds_nothing_to_change_writes_no_business(database: Database) -> None:
    with database.write() as conn:
        put(conn, GULL, TWIN, replace(GULL, source_id="3", name="Petals by Ines", phone="", street="2 Row"))
    recluster.recluster(database, SETTINGS)
    with database.read() as conn:
        before = [row["changed"] for row in businesses.all_businesses(conn)]
    recluster.recluster(database, SETTINGS)
    with database.read() as conn:
        assert [row["changed"] for row in businesses.all_businesses(conn)] == before
