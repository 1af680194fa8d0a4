"""What the user decides of pairs, fields and relationships: carried out at once, and held when everything is merged again."""

import dataclasses
import sqlite3

import pytest

from openacorn.business.store import businesses, decisions, listings, relationships
from openacorn.core.gather.listing import Listing
from openacorn.core.match.relationship import identifiers_in
from openacorn.db.database import Database
from openacorn.errors import NotFound
from openacorn.match import user_decisions
from openacorn.match.merging import merge_new_listings
from openacorn.match.recluster import recluster, refresh_relevance
from openacorn.match.user_decisions import DecisionError
from openacorn.runs.store import sweeps
from openacorn.runs.store.sweeps import Plan
from openacorn.settings import Settings
from tests.conftest import circle

SETTINGS = Settings(region="AU", home=(-37.0, 160.0))
PLAN = Plan(("florists",), (circle(-37.0, 160.0, 5000),))
AT = "2026-09-01T00:00:00+00:00"
GULL = Listing(
    "listing_service",
    "1",
    "Gull Florist",
    "Florist",
    -37.0,
    160.0,
    "14 Mill Lane",
    "Port Ellery",
    "7801",
    "(03) 5550 1234",
)
TWIN = dataclasses.replace(GULL, source="map_data", source_id="n2", name="GULL FLORISTS", reviews=9)
OFFICE = dataclasses.replace(GULL, source="directory:1", source_id="3", name="Petals by Ines")


def take(conn: sqlite3.Connection, *rows: Listing, plan: Plan = PLAN) -> list[int]:
    run = sweeps.add_run(conn, sweeps.add_sweep(conn, "s", sweeps.plan_to_json(plan), AT), AT)
    put = listings.put_listings(conn, run, "florists", rows, AT)
    return merge_new_listings(conn, put.to_merge, SETTINGS) if put.to_merge else []


def groups(conn: sqlite3.Connection) -> set[frozenset[str]]:
    found: dict[int | None, set[str]] = {}
    for held in listings.get_listings(conn, listings.all_ids(conn)):
        found.setdefault(held.business_id, set()).add(held.listing.source_id)
    return {frozenset(group) for group in found.values()}


def test_a_doubtful_pair_is_asked_about_and_the_answer_holds(database: Database) -> None:
    with database.write() as conn:
        (first,), (second,) = take(conn, GULL), take(conn, OFFICE)
        (pair,) = decisions.open_pairs(conn, 10)
        assert {pair.first, pair.second} == {first, second}
        assert 0.5 <= pair.probability < 0.99
        assert user_decisions.join(conn, first, second, SETTINGS, AT) == first
        assert (groups(conn), decisions.count_open(conn)) == ({frozenset({"1", "3"})}, 0)
        take(conn, dataclasses.replace(OFFICE, reviews=3))
    recluster(database, SETTINGS)
    with database.write() as conn:
        assert groups(conn) == {frozenset({"1", "3"})}
        user_decisions.forget(conn, [1], [2], SETTINGS)
        assert groups(conn) == {frozenset({"1"}), frozenset({"3"})}
        assert decisions.count_open(conn) == 1
        one, other = (held.business_id for held in listings.get_listings(conn, [1, 2]))
        assert one is not None
        assert other is not None
        user_decisions.keep_apart(conn, one, other, SETTINGS, AT)
    recluster(database, SETTINGS)
    with database.write() as conn:
        assert (len(groups(conn)), decisions.count_open(conn)) == (2, 0)


def test_a_merge_undone_stays_undone_and_can_be_taken_back(database: Database) -> None:
    with database.write() as conn:
        (business,) = set(take(conn, GULL, TWIN))
        assert len(listings.listings_of(conn, business)) == 2
        (made,) = user_decisions.split(conn, business, [2], SETTINGS, AT)
        assert made != business
        assert businesses.get_business(conn, made)["reviews"] == 9
        assert businesses.get_business(conn, business)["reviews"] is None
        take(conn, dataclasses.replace(TWIN, reviews=10))
    recluster(database, SETTINGS)
    with database.write() as conn:
        assert groups(conn) == {frozenset({"1"}), frozenset({"n2"})}
        (held,) = decisions.decided_about(conn, business)
        assert held["verdict"] == "two"
        user_decisions.forget(conn, [1], [2], SETTINGS)
        assert groups(conn) == {frozenset({"1", "n2"})}


def test_a_correction_wins_over_every_source_and_follows_a_merge(database: Database) -> None:
    with database.write() as conn:
        (business,) = take(conn, GULL)
        user_decisions.correct(conn, business, "phone", "+61355509999", SETTINGS, AT)
        user_decisions.correct(conn, business, "reviews", "12", SETTINGS, AT)
        take(conn, dataclasses.replace(GULL, phone="(03) 5550 1234", reviews=4), TWIN)
    recluster(database, SETTINGS)
    with database.write() as conn:
        row = businesses.get_business(conn, business)
        assert (row["phone"], row["reviews"]) == ("+61355509999", 12)
        user_decisions.correct(conn, business, "phone", None, SETTINGS, AT)
        assert businesses.get_business(conn, business)["phone"] == "+61355501234"


def test_decisions_that_make_no_sense_change_nothing(database: Database) -> None:
    with database.write() as conn:
        (business,) = take(conn, GULL)
        for wrong in (
            lambda: user_decisions.join(conn, business, business, SETTINGS, AT),
            lambda: user_decisions.split(conn, business, [1], SETTINGS, AT),
            lambda: user_decisions.split(conn, business, [99], SETTINGS, AT),
            lambda: user_decisions.correct(conn, business, "lat", 1.0, SETTINGS, AT),
            lambda: user_decisions.correct(conn, business, "website", "javascript:alert(1)", SETTINGS, AT),
            lambda: user_decisions.correct(conn, business, "website", "data://x/,y", SETTINGS, AT),
            lambda: user_decisions.correct(conn, business, "name", " ", SETTINGS, AT),
            lambda: user_decisions.correct(conn, business, "reviews", "many", SETTINGS, AT),
        ):
            with pytest.raises(DecisionError):
                wrong()
        with pytest.raises(NotFound):
            user_decisions.join(conn, business, 999, SETTINGS, AT)
        assert businesses.get_business(conn, business)["name"] == "Gull Florist"


def test_the_answer_does_not_hang_on_the_order_of_arrival(database: Database, tmp_path: object) -> None:
    rows = [
        GULL,
        TWIN,
        OFFICE,
        dataclasses.replace(GULL, source_id="4", street="", phone="", lat=None, lon=None, postcode=""),
    ]
    found = []
    for order in (rows, rows[::-1], [rows[2], rows[0], rows[3], rows[1]]):
        with database.write() as conn:
            for table in ("doubt", "seen", "listing_key", "listing", "business"):
                conn.execute(f"DELETE FROM {table}")
            for row in order:
                take(conn, row)
        recluster(database, SETTINGS)
        with database.write() as conn:
            names = {row["name"] for row in businesses.all_businesses(conn)}
            found.append((groups(conn), names))
    assert found[0] == found[1] == found[2]


def test_relationship_rules_and_chains_act_on_what_is_held_and_go_again(database: Database) -> None:
    branch = dataclasses.replace(
        GULL,
        source_id="9",
        street="80 Salt Road",
        town="Quillhaven",
        postcode="7814",
        phone="(03) 5550 7777",
        website="gull.example",
        lat=-37.02,
    )
    with database.write() as conn:
        (first,), (second,) = take(conn, dataclasses.replace(GULL, website="gull.example")), take(conn, branch)
    recluster(database, SETTINGS)
    with database.write() as conn:
        assert [row["chain"] for row in businesses.get_businesses(conn, [first, second])] == ["Gull Florist"] * 2
        assert len(businesses.list_chain(conn, "Gull Florist")) == 2
        marks, _ = identifiers_in("(03) 5550 1234", "AU")
        relationships.insert_relationships(conn, "client", marks, AT)
    assert refresh_relevance(database, SETTINGS) == 1
    with database.write() as conn:
        assert [row["relationship"] for row in businesses.get_businesses(conn, [first, second])] == ["client", ""]
        entry = relationships.list_relationships(conn, 5)[0][0]
        relationships.delete_relationship(conn, entry.id)
    assert refresh_relevance(database, SETTINGS) == 1
    with database.write() as conn:
        strict = dataclasses.replace(PLAN, rules=dataclasses.replace(PLAN.rules, independent=True))
        conn.execute("UPDATE sweep SET plan = ?", (sweeps.plan_to_json(strict),))
    refresh_relevance(database, SETTINGS)
    with database.write() as conn:
        assert [row["rejected"] for row in businesses.get_businesses(conn, [first, second])] == ["part of a chain"] * 2
        conn.execute("UPDATE sweep SET plan = ?", (sweeps.plan_to_json(PLAN),))
    refresh_relevance(database, SETTINGS)
    with database.write() as conn:
        assert [row["rejected"] for row in businesses.get_businesses(conn, [first, second])] == ["", ""]
