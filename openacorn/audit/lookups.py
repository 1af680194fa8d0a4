"""Who is at a business, by APIs that are asked about one at a time: while it is audited, once its domain is known."""

from collections.abc import Iterator, Sequence
from dataclasses import replace

from openacorn.clock import utc_now
from openacorn.core.audit.evidence import ListingFacts
from openacorn.core.audit.offsite import PeopleSearch, PersonSaid
from openacorn.core.audit.people import works_there
from openacorn.core.gather.api_reader import read_places
from openacorn.core.gather.api_recipe import ApiRecipe, Asked
from openacorn.core.gather.file_columns import RowError
from openacorn.core.gather.listing import Listing
from openacorn.core.gather.recipe import RecipeError
from openacorn.core.trades.catalogue import catalogue
from openacorn.gather.look_ups import LookUp
from openacorn.gather.sources._source import SourceFailure, service_endpoint, source_of
from openacorn.gather.sources.api import listing_of, request_of
from openacorn.net.ask import Asker
from openacorn.net.client import Client
from openacorn.net.pace import Pace
from openacorn.settings import Settings

DIRECTORY = "people_directory"


def _questions(recipe: ApiRecipe, facts: ListingFacts, domain: str) -> Iterator[tuple[str, Asked]]:
    """(in words, what is asked) as far as the recipe asks for what is known: the domain first, then the rest."""
    slots = recipe.slots
    if domain and "domain" in slots:
        yield domain, Asked(facts.trade, domain=domain)
    if "name" in slots and (facts.town or "town" not in slots):
        words = f"{facts.name} in {facts.town}" if facts.town else facts.name
        yield words, Asked(facts.trade, name=facts.name, town=facts.town, postcode=facts.postcode, phone=facts.phone)
    elif "phone" in slots and facts.phone:
        yield facts.phone, Asked(facts.trade, phone=facts.phone)


def _entry(row: dict[str, str], source: str, rank: int, asked: Asked) -> Listing | None:
    """A row as a listing, None for one that names no firm: only what was asked by its domain is surely of that firm."""
    if asked.domain:
        row = {"name": asked.domain, "website": asked.domain} | row
    try:
        return listing_of(row, source, rank)
    except RowError:
        return None


class PeopleFinder:
    """Asks the people directory of the settings, and look-ups of the user's. `client` may reach the sources' own addresses."""

    def __init__(self, client: Client, settings: Settings) -> None:
        self._asker = Asker(client, Pace())
        self._workers = settings.workers
        self._directory: LookUp | None = None
        try:
            endpoint = service_endpoint(source_of(DIRECTORY), settings.source(DIRECTORY), catalogue())
            assert endpoint.api is not None
            self._directory = LookUp(DIRECTORY, endpoint.api, endpoint.key)
        except SourceFailure as missing:
            self._missing = f"{missing}: {missing.remedy}"

    async def find(
        self, facts: ListingFacts, domain: str, own: Sequence[LookUp] = (), *, directory: bool = True
    ) -> PeopleSearch:
        """Ask each look-up by the business's own domain ("" if none), and by its name in its town where that finds nobody."""
        wanted = ([self._directory] if self._directory and directory else []) + list(own)
        first = wanted[0].source if wanted else DIRECTORY
        asked, failed = list[str](), [self._missing] if directory and self._directory is None else []
        found = list[PersonSaid]()
        for look_up in wanted:
            try:
                found += await self._ask(look_up, facts, domain, asked)
            except (SourceFailure, RecipeError) as failure:
                failed.append(str(failure))
        return PeopleSearch(utc_now(), first, "; ".join(dict.fromkeys(asked)), tuple(found), "; ".join(failed))

    async def _ask(self, look_up: LookUp, facts: ListingFacts, domain: str, said: list[str]) -> tuple[PersonSaid, ...]:
        """Who is there by one look-up. Raises SourceFailure, RecipeError."""
        # each worker keeps a pace of its own, so that all of them together keep the source's
        recipe = replace(look_up.recipe, pace_s=look_up.recipe.pace_s * self._workers)
        for words, asked in _questions(recipe, facts, domain):
            said.append(words)
            reply = await self._asker.ask(request_of(recipe, asked, look_up.key))
            read = read_places(recipe, asked, reply.body, reply.headers, reply.url or recipe.address)
            rows = (_entry(dict(row), look_up.source, rank, asked) for rank, row in enumerate(read.rows, 1))
            if people := works_there([row for row in rows if row], facts.name, facts.town, domain):
                return people
        return ()
