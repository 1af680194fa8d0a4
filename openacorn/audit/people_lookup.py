"""Whom a people directory puts at a business: asked while it is audited, once its domain is known."""

from openacorn.clock import utc_now
from openacorn.core.audit.evidence import ListingFacts
from openacorn.core.audit.offsite import PeopleSearch
from openacorn.core.audit.people import works_there
from openacorn.core.gather.planning import Query
from openacorn.gather.sources._source import Endpoint, SourceFailure, source_of
from openacorn.net.ask import Asker
from openacorn.net.client import Client
from openacorn.net.pace import Pace
from openacorn.settings import Settings

DIRECTORY = "people_directory"
NOT_SET_UP = "the people directory is not set up: enter its address and key in Settings"


class PeopleFinder:
    """Asks the people directory. `client` may reach the sources' own addresses."""

    def __init__(self, client: Client, settings: Settings) -> None:
        kept = settings.source(DIRECTORY)
        # each worker keeps a pace of its own, so that all of them together keep the source's
        self._endpoint = Endpoint(kept.endpoint, kept.key, kept.pace_s * settings.workers)
        self._source = source_of(DIRECTORY)
        self._asker = Asker(client, Pace())

    async def find(self, facts: ListingFacts, domain: str) -> PeopleSearch:
        """Ask by the business's own domain ("" if it has none), and by its name in its town where that finds nobody."""
        if not self._endpoint.url:
            return PeopleSearch(utc_now(), DIRECTORY, "", failed=NOT_SET_UP)
        ways = [Query(DIRECTORY, facts.trade, domain)] if domain else []
        if facts.town:
            ways.append(Query(DIRECTORY, facts.trade, facts.name, place=facts.town))
        asked = []
        for query in ways:
            asked.append(f"{query.word} in {query.place}" if query.place else query.word)
            try:
                reply = await self._asker.ask(self._source.ask(query, self._endpoint))
                entries = self._source.read(query, self._endpoint, reply).listings
            except SourceFailure as failure:
                return PeopleSearch(utc_now(), DIRECTORY, "; ".join(asked), failed=str(failure))
            if people := works_there(entries, facts.name, facts.town, domain):
                return PeopleSearch(utc_now(), DIRECTORY, "; ".join(asked), people)
        return PeopleSearch(utc_now(), DIRECTORY, "; ".join(asked))
