"""Ranks on the coast: the place is the one that the listing service gives at the town's centre, never a tile's order."""

import asyncio
from pathlib import Path

import pytest

from openacorn.audit.reputation import local_rank_of
from openacorn.business.store.listings import StoredListing, listings_of
from openacorn.business.store.town_ranks import TownRank, insert_ranks, list_ranks
from openacorn.core.gather.listing import Listing
from openacorn.core.gather.planning import rank_questions
from openacorn.core.trades.catalogue import catalogue
from openacorn.db.database import Database
from openacorn.gather.queries import first_queries, towns_in
from openacorn.gather.sources._source import service_endpoint, source_of
from openacorn.net.ask import Asker
from openacorn.net.client import Client
from openacorn.net.pace import Pace
from openacorn.runs.store.sweeps import Plan
from tests.application import application
from tests.conftest import Coast, circle

LISTINGS = "listing_service"
FACTS = ("website", "rank")


async def _in_order(coast: Coast, town: str, plan: Plan, database: Database) -> list[str]:
    """The ids that the service hands out at a town's centre, page by page, asked apart from the application."""
    kept, source = coast.settings.source(LISTINGS), source_of(LISTINGS)
    endpoint = service_endpoint(source, kept, catalogue())
    with database.read() as conn:
        centre = towns_in(conn, plan)[town]
        (query,) = [item for item in first_queries(conn, plan, LISTINGS) if item.place == town]
    (again,) = rank_questions(LISTINGS, [("vets", "vets")], [(town, centre)])
    assert query == again
    found: list[str] = []
    async with Client(coast.settings, allow_private=True) as client:
        asker = Asker(client, Pace())
        for _ in range(3):
            reading = source.read(query, endpoint, await asker.ask(source.ask(query, endpoint)))
            found += [listing.source_id for listing in reading.listings]
            query = type(query)(**{**{name: getattr(query, name) for name in query.__slots__}, "page": query.page + 1, "seen": len(found)})  # fmt: skip
            if not reading.more:
                break
    return found


@pytest.mark.world
def test_a_rank_is_the_place_in_one_answer_at_the_towns_centre(coast: Coast, tmp_path: Path) -> None:
    plan = {"trades": ["vets"], "areas": [circle(-37.02, 160.02, 5000)], "sources": [LISTINGS], "facts": list(FACTS)}
    with application(tmp_path, coast.settings, coast.read("places.json")) as app:
        run = app.wait_for_run(app.post("/api/sweeps", {"name": "Vets", "plan": plan})["run_id"])
        assert run["state"] == "done"
        database = Database(tmp_path / "acorn.db")
        order = asyncio.run(_in_order(coast, "Port Ellery", Plan(("vets",), (circle(-37.02, 160.02, 5000),), facts=FACTS), database))  # fmt: skip
        page = app.get("/api/businesses?limit=500&state=all")
        ids = [row[page["columns"].index("id")] for row in page["rows"]]
        seen = 0
        for business in ids[::7]:
            whole = app.get(f"/api/businesses/{business}")
            rank = next(item for item in whole["findings"] if item["check"] == "search_rank")
            with database.read() as conn:
                own = {held.listing.source_id for held in listings_of(conn, business)}
            there = next((place for place, name in enumerate(order, 1) if name in own), None)
            if whole["town"] != "Port Ellery":
                continue
            seen += 1
            assert rank["value"] == (there or f"beyond {len(order)}")
        database.close()
    assert seen > 3
    assert 20 < len(order) <= 60  # more than one page of it


def _held(source: str, name: str) -> StoredListing:
    return StoredListing(1, "vets", Listing(source, name, "Gull Vets"), "", 1)


@pytest.mark.parametrize(
    ("own", "more", "rank", "reason"),
    [
        ("b", True, 2, ""),
        ("z", True, None, ""),  # it is listed, and there was more than was handed out
        ("z", False, 0, "not in the answer"),  # everything was handed out: it lies outside of what was asked
        ("", True, 0, "not in the answer"),  # that source does not list it
    ],
)
def test_beyond_is_said_only_where_the_answer_was_cut(own: str, more: bool, rank: int | None, reason: str) -> None:
    members = [_held(LISTINGS, own)] if own else [_held("map_data", "b")]
    found = local_rank_of(members, [TownRank(LISTINGS, "Larch Flat", "", "vets", more, ("a", "b"))])
    assert (getattr(found, "rank", 0), reason in getattr(found, "reason", "")) == (rank, True)


def test_a_page_behind_the_first_is_put_behind_it(database: Database) -> None:
    with database.write() as conn:
        for before, ids in ((0, ("x",)), (0, ("a", "b")), (2, ("c",)), (2, ("d",))):
            insert_ranks(conn, "vets", TownRank(LISTINGS, "Larch Flat", "", "vets", False, ids), before)
        assert list_ranks(conn, "vets")["larch flat"][0].ids == ("a", "b", "d")
