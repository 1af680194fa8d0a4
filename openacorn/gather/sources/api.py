"""Any JSON API, read by a recipe: one that a user made, or one that ships."""

import html
from collections.abc import Mapping
from dataclasses import replace

from openacorn.core.gather.api_reader import PlacesRead, read_places
from openacorn.core.gather.api_recipe import DEFAULT_CAP, FACTS, ApiRecipe, Asked, call_of
from openacorn.core.gather.file_columns import HEADINGS, RowError, read_row
from openacorn.core.gather.listing import Listing
from openacorn.core.gather.planning import Query
from openacorn.core.gather.recipe import RecipeError
from openacorn.gather.sources._source import Endpoint, Reading, Request, Source, SourceFailure, SourceReply

COLUMNS = {name: name for name in HEADINGS if name != "source"}
ROUND = 10
"""An answer that ends exactly with a full page of so many or more may have been cut there."""

SAID = frozenset(("cursor", "link", "header"))
"""Pagings by which an answer itself says whether there is another page."""

LIST_FIELDS = ("phone", "email", "website")
"""Fields of which a place may have several: the first counts."""


def _recipe(endpoint: Endpoint) -> ApiRecipe:
    if endpoint.api is None:
        raise SourceFailure("this API has no recipe", "make one under Sources")
    return endpoint.api


def _asked(query: Query, endpoint: Endpoint) -> Asked:
    codes = endpoint.trades.of(query.trade).codes if query.trade else ()
    domain = query.word if _recipe(endpoint).by == "business" else ""
    return Asked(query.word, query.place, query.tile, query.page, query.seen, query.cursor, codes, domain=domain)


def ask(query: Query, endpoint: Endpoint) -> Request:
    """Ask for one page of a word in a tile, at a place, or of everything."""
    return request_of(_recipe(endpoint), _asked(query, endpoint), endpoint.key)


def request_of(recipe: ApiRecipe, asked: Asked, key: str) -> Request:
    """The request for what is asked."""
    call = call_of(recipe, asked, key)
    return Request(call.url, {}, call.headers, recipe.pace_s, body=call.body or b"")


def _whole(text: str) -> int | None:
    return int(text) if text.isdigit() else None


def _fact(name: str, text: str) -> str | int | bool | None:
    """A fact as what it is, None where the text is none of that kind."""
    if FACTS[name] is int:
        return _whole(text)
    if FACTS[name] is bool:
        return {"true": True, "false": False}.get(text)
    return text


def listing_of(row: Mapping[str, str], source: str, rank: int, country: str = "") -> Listing:
    """A row as a listing. country: ISO 3166, of its address. Raises RowError."""
    plain = {name: html.unescape(text) for name, text in row.items()}
    firsts = {name: plain[name].partition("; ")[0] for name in LIST_FIELDS if name in plain}
    found = read_row({**plain, **firsts}, COLUMNS, source, "", country)
    facts = {name: fact for name in FACTS if (fact := _fact(name, plain.get(name, ""))) not in (None, "")}
    return replace(
        found,
        source_id=found.source_id or found.printed_id,
        claimed={"true": True, "false": False}.get(row.get("claimed", "")),
        photos=_whole(row.get("photos", "")),
        staff_band=plain.get("staff_band", ""),
        price_band=_whole(row.get("price_band", "")),
        status="closed" if row.get("closed") == "true" else "open",
        extra=facts,
        rank=rank,
    )


def _listing(row: Mapping[str, str], query: Query, endpoint: Endpoint, rank: int) -> Listing:
    """A row as a listing of the place and trade that was asked for, where it names none. Raises RowError."""
    found = listing_of(row, query.source, rank, endpoint.region or "")
    by_codes = "codes" in _recipe(endpoint).slots and query.trade
    category = found.category or (endpoint.trades.of(query.trade).label if by_codes else "")
    return replace(found, town=found.town or query.place, category=category)


def _is_cut(recipe: ApiRecipe, query: Query, read: PlacesRead) -> bool:
    """Does the API hold more than it handed out? By its own count, or by an end on a full page, whatever it counts."""
    seen = query.seen + len(read.rows) + read.empty
    if read.more:
        return query.page >= recipe.limit
    if read.total is not None and read.total > seen:
        return True
    if recipe.more or (query.page == 1 and recipe.paging in SAID):
        return False  # a service that names its next pages has no cap of one page
    return seen > 0 and recipe.page_size >= ROUND and seen % recipe.page_size == 0


def read(query: Query, endpoint: Endpoint, reply: SourceReply) -> Reading:
    """Read one page; a place without a name is counted as unreadable."""
    recipe = _recipe(endpoint)
    try:
        found = read_places(recipe, _asked(query, endpoint), reply.body, reply.headers, reply.url or recipe.address)
    except RecipeError as error:
        own = query.source.startswith("api:")
        remedy = (
            "check the address, the key and the paths of its recipe" if own else "check its address in the settings"
        )
        raise SourceFailure(str(error), remedy) from None
    listings, unreadable = [], found.empty
    for place, row in enumerate(found.rows):
        try:
            listings.append(_listing(row, query, endpoint, query.seen + place + 1))
        except RowError:
            unreadable += 1
    more = found.more and query.page < recipe.limit
    return Reading(tuple(listings), more, unreadable, found.next, cut=_is_cut(recipe, query, found))


SOURCE = Source(
    id="api",
    title="JSON API",
    cap=DEFAULT_CAP,
    page_size=20,
    ask=ask,
    read=read,
    hint="any service that answers in JSON, read by a recipe of yours",
)
