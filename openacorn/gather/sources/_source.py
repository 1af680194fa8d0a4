"""What a source is: questions to requests, replies to listings. A source never fetches."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from functools import cache
from importlib.resources import files as files_of
from importlib.resources.abc import Traversable

import orjson

import openacorn.gather.sources as sources
from openacorn.core.gather.api_check import api_of
from openacorn.core.gather.api_recipe import ApiRecipe
from openacorn.core.gather.listing import Listing
from openacorn.core.gather.planning import Query
from openacorn.core.gather.recipe import Recipe
from openacorn.core.trades.catalogue import Catalogue, catalogue
from openacorn.errors import InvalidInput, Upstream
from openacorn.plugins import scan
from openacorn.settings import SourceSettings


class UnknownSource(InvalidInput):
    """A source id that no connector has; the message lists what there is."""

    where = "sources"
    remedy = "pick a source from the list"


class SourceFailure(Upstream):
    """A source could not be read. `remedy` says what the user can do."""

    where = "source"
    remedy = "check the address and try again"

    def __init__(self, why: str, remedy: str) -> None:
        super().__init__(why)
        self.remedy = remedy


@dataclass(frozen=True, slots=True)
class Endpoint:
    """Where and how this installation reaches a source; empty `url`: not set up. plan: a directory's recipe; api: an API's.

    trades: what a query's trade is one of. region: the user's country, ISO 3166.
    """

    url: str
    key: str
    pace_s: float
    plan: Recipe | None = None
    api: ApiRecipe | None = None
    trades: Catalogue = field(default_factory=catalogue)
    region: str | None = None


@dataclass(frozen=True, slots=True)
class LogIn:
    """A form to be sent once before a site's pages are asked for; its cookies are kept for the run."""

    url: str
    form: Mapping[str, str]


@dataclass(frozen=True, slots=True)
class Drawing:
    """How a browser draws a page: as long as scrolling to its end and clicking `more` brings further `rows`, `most` times at
    most. rows, more: selectors."""

    rows: str = ""
    more: str = ""
    most: int = 1


@dataclass(frozen=True, slots=True)
class Request:
    """An HTTP request to be made; `pace_s`: least seconds after the last request to the same host. form: a POST of it."""

    url: str
    params: Mapping[str, str]
    headers: Mapping[str, str] = field(default_factory=dict)
    pace_s: float = 0.0
    robots: bool = False
    """Is this a web page, read only where robots.txt lets us? An interface made for programs has its own terms."""
    form: Mapping[str, str] = field(default_factory=dict)
    log_in: LogIn | None = None
    body: bytes = b""
    """A POST of it, as its own Content-Type header says."""
    drawing: Drawing | None = None
    """Is a browser to draw the page?"""


@dataclass(frozen=True, slots=True)
class SourceReply:
    """A source's answer to one request. headers: names in lower case."""

    body: bytes
    headers: Mapping[str, str] = field(default_factory=dict)
    url: str = ""


@dataclass(frozen=True, slots=True)
class Reading:
    """One reply read: its listings, whether the same question has another page (and its address, where the source gives
    one), rows that could not be read, and whether the source itself says that it left something out."""

    listings: tuple[Listing, ...]
    more: bool
    unreadable: int = 0
    cursor: str = ""
    cut: bool = False
    repeats: bool = False
    """Did it bring only what the pages before had brought?"""
    left_out: int = 0
    """Rows that are no businesses, as their own pages show."""
    own_pages: tuple[str, ...] = ()
    """Addresses of the listings' own pages, where more is to be read of each ("" for none); empty if nothing is."""


@dataclass(frozen=True, slots=True)
class PublicService:
    """A service that anybody may use without a contract. terms: its rules of use, in a sentence or two for people."""

    address: str
    pace_s: float
    terms: str
    rules_at: str


@dataclass(frozen=True, slots=True)
class Source:
    """Somewhere listings come from.

    cap: most rows one question gives over all its pages. by: "tiles" where it takes an area, "places" where it takes a
    place's name, "business" where it is asked about one at a time, "once" where it is read whole.
    words: how many of a trade's words are asked from the start (more only where an answer is full).
    """

    id: str
    title: str
    cap: int
    page_size: int
    ask: Callable[[Query, Endpoint], Request]
    read: Callable[[Query, Endpoint, SourceReply], Reading]
    by: str = "tiles"
    words: int = 1
    independent: bool = True
    """Does it list for itself? Only such sources tell, by their overlap, how much is missing."""
    joins: bool = False
    """Are its rows no businesses by themselves, only facts to be joined to what other sources list?"""
    ranked: bool = False
    """Does the order of its answers say who a searcher sees first?"""
    hint: str = ""
    """For the plan: what this source is good for, in a few words."""
    own_page: Callable[[str, Endpoint], Request] | None = None
    """Asks for a listing's own page."""
    complete: Callable[[Listing, Endpoint, SourceReply], Listing | None] | None = None
    """A listing with what its own page says; None where that shows that it is no business."""
    each: bool = False
    """Is each listing's own page asked for?"""
    at_once: int = 4
    """Questions in flight: enough to keep its pace while answers travel."""
    public: PublicService | None = None
    recipe: ApiRecipe | None = None
    """How its API is asked and read, where a shipped recipe says it; its address begins with {endpoint}."""


ENDPOINT = "{endpoint}"
"""How the address of a shipped recipe begins: each installation sets where its service is."""


def _shipped(file: Traversable, connector: Source) -> Source:
    """A source that one connector reads by a recipe that ships: what the file says beside the recipe is of the source."""
    said = orjson.loads(file.read_bytes())
    raw = said.pop("recipe")
    checked = api_of(
        {**raw, "title": said["title"], "address": raw["address"].replace(ENDPOINT, "https://service.example")}
    )
    recipe = replace(checked, address=raw["address"])
    source_id = file.name.removesuffix(".json")
    cap = recipe.cap or connector.cap
    return replace(
        connector, id=source_id, cap=cap, page_size=recipe.page_size, by=recipe.by, ranked=recipe.ranked, recipe=recipe, **said
    )  # fmt: skip


@cache
def all_sources() -> dict[str, Source]:
    """Source id → source, found by scan: modules, and recipes of APIs."""
    found = {source.id: source for source in scan(sources, "SOURCE", Source)}
    files = sorted(files_of(sources).joinpath("recipes").iterdir(), key=lambda file: file.name)
    for file in files:
        if file.name.endswith(".json"):
            shipped = _shipped(file, found["api"])
            found[shipped.id] = shipped
    return dict(sorted(found.items()))


BY_RECIPE = frozenset(("directory", "api"))
"""Connectors that are no source by themselves: each recipe of theirs is one."""


def services() -> list[Source]:
    """Sources that are services with an address of their own: no recipe's, no file."""
    return [source for source in all_sources().values() if source.by != "once" and source.id not in BY_RECIPE]


def service_endpoint(source: Source, kept: SourceSettings, trades: Catalogue) -> Endpoint:
    """Where a service with an address of its own is reached. Raises SourceFailure if it is not set up."""
    if not kept.endpoint:
        raise SourceFailure(f"the {source.title.lower()} is not set up", "enter its address and key in Settings")
    api = source.recipe
    if api is not None:
        address = api.address.replace(ENDPOINT, kept.endpoint.rstrip("/"))
        api = replace(api, address=address, pace_s=kept.pace_s)
    return Endpoint(kept.endpoint, kept.key, kept.pace_s, api=api, trades=trades)


def source_of(source_id: str) -> Source:
    """The connector behind a source's id: "directory:3" is the directory connector with the third recipe."""
    found = all_sources().get(source_id.partition(":")[0])
    if found is None:
        raise UnknownSource(f"there is no source {source_id!r}; choose from {', '.join(all_sources())}")
    return found


def joined_sources() -> frozenset[str]:
    """Ids of the sources whose rows are joined to businesses, never businesses themselves."""
    return frozenset(source.id for source in all_sources().values() if source.joins)
