"""Pages that recipes are made on: fetched, or drawn by a browser, and kept for a while so that each click need not fetch again."""

import secrets
from collections import OrderedDict
from dataclasses import dataclass, replace

from openacorn.core.gather.planning import Query
from openacorn.core.gather.recipe import Recipe, RecipeError
from openacorn.gather.sources._source import Endpoint, Request
from openacorn.gather.sources.directory import ask, own_page, text_of_page
from openacorn.net.ask import Asker
from openacorn.net.client import Client
from openacorn.net.pace import Pace
from openacorn.settings import Settings

KEPT = 12
TRIAL_PACE_S = 0.2


@dataclass(frozen=True, slots=True)
class FetchedPage:
    """A page's source, and the address that gave it in the end."""

    source: str
    url: str


class FetchedPages:
    """The latest pages, each under a name that nobody can guess."""

    def __init__(self) -> None:
        self._pages: OrderedDict[str, FetchedPage] = OrderedDict()

    def keep(self, page: FetchedPage) -> str:
        """Keep a page; return its name."""
        name = secrets.token_urlsafe(12)
        self._pages[name] = page
        while len(self._pages) > KEPT:
            self._pages.popitem(last=False)
        return name

    def get(self, name: str) -> FetchedPage | None:
        """The page of that name, None if it was dropped since."""
        return self._pages.get(name)


async def fetch_page(
    address: str, settings: Settings, plan: Recipe | None, secret: str, words: tuple[str, str], *, own: bool
) -> FetchedPage:
    """Fetch a page of results as a recipe reaches it (its form, log-in, header, browser), else by its address alone.

    words: (term, place) for the recipe's form. own: it is one business's own page. Raises RecipeError, SourceFailure.
    """
    if not address.startswith(("http://", "https://")):
        raise RecipeError("address: give the whole address of a page of results, beginning with http")
    request = Request(address, {}, robots=True)
    if plan is not None:
        endpoint = Endpoint(plan.address, secret, TRIAL_PACE_S, plan)
        if own:
            request = own_page(address, endpoint)
        elif plan.form or plan.log_in or plan.header or plan.drawn:
            term, place = words
            request = ask(Query("directory", "", term, place=place), endpoint)
            if not plan.form:
                request = replace(request, url=address)
        if request.drawing is not None:
            request = replace(request, drawing=replace(request.drawing, most=1))
    async with Client(settings, allow_private=False) as client:
        reply = await Asker(client, Pace()).ask(replace(request, pace_s=TRIAL_PACE_S))
    return FetchedPage(text_of_page(reply), reply.url or address)
