"""Listings into businesses as they come: one keeper, nothing lost, reasons kept, and rows that come back."""

import dataclasses
import sqlite3
from typing import Any

import pytest

from openacorn.business.facts import facts_of
from openacorn.business.snapshot import Snapshot
from openacorn.business.store import businesses, listings, membership, shortlists
from openacorn.core.gather.listing import Listing
from openacorn.db.changes import current_change
from openacorn.db.database import Database
from openacorn.errors import NotFound
from openacorn.match.merging import merge_new_listings
from openacorn.runs.store import sweeps
from openacorn.runs.store.sweeps import Plan
from openacorn.settings import Settings
from tests.conftest import circle

SETTINGS = Settings(region="AU", home=(-37.0, 160.0))
PLAN = Plan(("vets",), (circle(-37.0, 160.0, 5000),))
VET = Listing(
    "listing_service",
    "1",
    "Harbour Vets",
    "Veterinarian",
    -37.0,
    160.0,
    "14 Mill Lane",
    "Port Ellery",
    "7801",
    "(03) 5550 1234",
    "https://harbour.example/",
)


def take(conn: sqlite3.Connection, *rows: Listing, plan: Plan = PLAN, trade: str = "vets") -> list[int]:
    run = sweeps.add_run(conn, sweeps.add_sweep(conn, "s", sweeps.plan_to_json(plan), "now"), "now")
    put = listings.put_listings(conn, run, trade, rows, "2026-09-01T00:00:00+00:00")
    return merge_new_listings(conn, put.to_merge, SETTINGS) if put.to_merge else []


def like(listing: Listing, **changes: Any) -> Listing:
    return dataclasses.replace(listing, **changes)


def test_a_double_that_comes_later_joins_and_the_business_keeps_its_id(database: Database) -> None:
    with database.write() as conn:
        (first,) = take(conn, VET)
        assert take(conn, like(VET, source_id="2", name="HARBOUR VETS PTY LTD", website="", reviews=9)) == [first]
        row = businesses.get_business(conn, first)
        assert (row["name"], row["website"], row["reviews"]) == ("Harbour Vets", "https://harbour.example/", 9)
        facts = {fact.field: fact for fact in facts_of(conn, first, SETTINGS.region)}
        assert facts["reviews"].listing.id == 2
        assert facts["name"].others == ("HARBOUR VETS PTY LTD",)


def test_two_businesses_that_turn_out_to_be_one_join_and_lists_follow(database: Database) -> None:
    apart = like(
        VET,
        source_id="2",
        name="Mill Lane Animal Clinic",
        phone="",
        website="",
        street="",
        lat=None,
        lon=None,
        postcode="",
    )
    with database.write() as conn:
        (first,), (second,) = take(conn, VET), take(conn, apart)
        assert first != second
        shortlist = shortlists.add_shortlist(conn, "Monday", "now")
        shortlists.add_members(conn, shortlist, [second], "now")
        # the second listing now says who it is
        known = like(VET, source_id="2", phone="03 5550 1234")
        assert take(conn, known) == [first]
        assert businesses.get_businesses(conn, [first, second])[0]["id"] == first
        assert len(businesses.get_businesses(conn, [first, second])) == 1
        assert membership.groups_of(conn, [first])[first]["shortlist"] == [str(shortlist)]
        with pytest.raises(NotFound, match=f"business {second} was merged into another, Harbour Vets") as told:
            businesses.get_business(conn, second)
        assert told.value.remedy == f"open /businesses/{first} instead"


def test_an_old_address_leads_on_over_several_mergers(database: Database) -> None:
    with database.write() as conn:
        one, two, three = (
            take(
                conn, like(VET, source_id=str(number), name=name, phone="", website="", street=name, lat=None, lon=None)
            )[0]
            for number, name in enumerate(("Mill Lane Clinic", "Harbour Dogs", "Gull Cats"), 1)
        )
        for gone, keeper in ((one, two), (two, three)):
            listings.assign(conn, [(keeper, held.id) for held in listings.listings_of(conn, gone)])
            businesses.delete_businesses(conn, gone, keeper)
        for gone in (one, two):
            with pytest.raises(NotFound, match="Gull Cats") as told:
                businesses.get_business(conn, gone)
            assert told.value.remedy == f"open /businesses/{three} instead"
        with pytest.raises(NotFound, match=r"there is no business 4711$"):
            businesses.get_business(conn, 4711)


@pytest.mark.parametrize(
    ("changes", "reason"),
    [
        ({}, ""),
        ({"status": "closed"}, "permanently closed"),
        ({"category": "Pet shop", "name": "Gull Pets"}, "another trade: Pet shop"),
        ({"category": "Florist", "name": "Gull Florist"}, "another trade: Florist"),
        ({"category": "Point of interest"}, ""),  # its name says it
        ({"lat": -37.2}, "outside the territory"),
        ({"lat": None, "lon": None}, ""),
    ],
)
def test_what_does_not_belong_is_kept_with_its_reason(database: Database, changes: dict[str, Any], reason: str) -> None:
    with database.write() as conn:
        (business,) = take(conn, like(VET, **changes))
        assert businesses.get_business(conn, business)["rejected"] == reason


def test_a_wider_or_another_sweep_brings_a_rejected_one_back_and_never_takes_a_held_one_away(
    database: Database,
) -> None:
    far = like(VET, lat=-37.2)
    with database.write() as conn:
        (business,) = take(conn, far)
        assert businesses.get_business(conn, business)["rejected"]
        take(conn, far, plan=dataclasses.replace(PLAN, areas=(circle(-37.0, 160.0, 60_000),)))
        assert not businesses.get_business(conn, business)["rejected"]
        take(conn, like(far, reviews=5))  # the narrow sweep again, with something new about it
        row = businesses.get_business(conn, business)
        assert (row["rejected"], row["reviews"]) == ("", 5)
        florist = like(VET, source_id="9", name="Gull Florist", category="Florist", phone="", website="")
        (other,) = take(conn, florist)
        take(conn, florist, plan=dataclasses.replace(PLAN, trades=("florists",)), trade="florists")
        row = businesses.get_business(conn, other)
        assert (row["trade"], row["rejected"]) == ("florists", "")


def test_the_table_in_memory_follows_every_write(database: Database) -> None:
    from openacorn.core.desk.filters import Filter

    snapshot = Snapshot(database, lambda: ("title",))

    def held() -> list[int]:
        with snapshot.current() as grid:
            return grid.order(grid.select(Filter()), "name", 0, 99)

    assert held() == []
    with database.write() as conn:
        (first,) = take(conn, VET)
        (second,) = take(
            conn, like(VET, source_id="2", name="Anchor Vets", phone="(03) 5550 9999", website="", street="9 Salt Road")
        )
        number = current_change(conn)
    assert held() == [second, first]
    with database.write() as conn:
        listings.assign(conn, [(first, 2)])
        businesses.delete_businesses(conn, second, first)
        assert current_change(conn) > number
    assert held() == [first]
