"""The people directory of the coast: whom it finds is at that business, and hardly anybody there is missed."""

import asyncio

import pytest

from openacorn.audit.lookups import PeopleFinder
from openacorn.core.audit.evidence import ListingFacts
from openacorn.net.client import Client
from openacorn.settings import Settings
from tests.conftest import Coast

pytestmark = pytest.mark.world

PRECISION, RECALL = 0.995, 0.97
"""Floors that may only rise. Somebody at another branch of the same firm is no mistake: they share the website.
Missed are second people whose entries give no domain: asking for them too would double the questions."""


def test_people_are_found_by_domain_or_by_name_and_only_at_their_own_business(coast: Coast) -> None:
    businesses = [row for row in coast.read("truth.json")["businesses"] if row["trade"] in ("vets", "boatyards")]
    owner_of = coast.read("truth.json")["listing_owner"]["people_directory"]
    profiles = {row["profile"]: owner_of[row["id"]] for row in coast.read("people.json")}

    async def ask() -> dict[int, list[str]]:
        settings = coast.settings.model_copy(deep=True)
        settings.sources["people_directory"].pace_s = 0
        async with Client(settings, allow_private=True) as client:
            finder = PeopleFinder(client, settings)
            found = {}
            for row in businesses:
                facts = ListingFacts(row["name"], None, "", "", town=row["town"], trade=row["trade"])
                search = await finder.find(facts, "" if row["wrong_site"] else row["host"])
                assert not search.failed
                found[row["id"]] = [person.profile for person in search.people]
            return found

    found = asyncio.run(ask())
    pairs = [(profile, business) for business, result in found.items() for profile in result]
    true = {(profile, business) for profile, business in profiles.items() if business in found}
    firm = {row["id"]: row["chain"] or row["id"] for row in businesses}
    assert sum(firm.get(profiles[profile]) == firm[business] for profile, business in pairs) >= PRECISION * len(pairs)
    assert len(true & set(pairs)) >= RECALL * len(true) > 0


def test_a_directory_that_is_not_set_up_or_refuses_says_so(coast: Coast) -> None:
    async def ask(settings: Settings) -> str:
        async with Client(settings, allow_private=True) as client:
            facts = ListingFacts("Gull Vets", None, "", "", town="Larch Flat")
            return (await PeopleFinder(client, settings).find(facts, "gull.example")).failed

    settings = coast.settings.model_copy(deep=True)
    settings.sources["people_directory"].key = "wrong"
    assert "HTTP 401" in asyncio.run(ask(settings))
    del settings.sources["people_directory"]
    assert "not set up" in asyncio.run(ask(settings))
