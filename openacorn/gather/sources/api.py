"""Any JSON API, read by a recipe that a user made."""

from collections.abc import Mapping
from dataclasses import replace

from openacorn.core.gather.api_recipe import DEFAULT_CAP, ApiRecipe, Asked, PlacesRead, call_of, read_places
from openacorn.core.gather.file_columns import HEADINGS, RowError, read_row
from openacorn.core.gather.listing import Listing
from openacorn.core.gather.planning import Query
from openacorn.core.gather.recipe import RecipeError
from openacorn.gather.sources._source import Endpoint, Reading, Request, Source, SourceFailure, SourceReply

COLUMNS = {name: name for name in HEADINGS if name != "source"}
ROUND = 10
"""An answer that ends exactly with a full page of so many or more may have been cut there."""

LIST_FIELDS = ("phone", "email", "website")
"""Fields of which a place may have several: the first counts."""


def _recipe(endpoint: Endpoint) -> ApiRecipe:
    if endpoint.api is None:
        raise SourceFailure("this API has no recipe", "make one under Sources")
    return endpoint.api


def _asked(query: Query) -> Asked:
    return Asked(query.word, query.place, query.tile, query.page, query.seen, query.cursor)


def ask(query: Query, endpoint: Endpoint) -> Request:
    """Ask for one page of a word in a tile, at a place, or of everything."""
    recipe = _recipe(endpoint)
    call = call_of(recipe, _asked(query), endpoint.key)
    return Request(call.url, {}, call.headers, recipe.pace_s, body=call.body or b"")


def _whole(text: str) -> int | None:
    return int(text) if text.isdigit() else None


def _listing(row: Mapping[str, str], query: Query, rank: int) -> Listing:
    """A row as a listing. Raises RowError."""
    firsts = {name: row[name].partition("; ")[0] for name in LIST_FIELDS if name in row}
    found = read_row({**row, **firsts}, COLUMNS, query.source, "")
    return replace(
        found,
        source_id=found.source_id or found.printed_id,
        town=found.town or query.place,
        claimed={"true": True, "false": False}.get(row.get("claimed", "")),
        photos=_whole(row.get("photos", "")),
        staff_band=row.get("staff_band", ""),
        price_band=_whole(row.get("price_band", "")),
        status="closed" if row.get("closed") == "true" else "open",
        rank=rank,
    )


def _is_cut(recipe: ApiRecipe, query: Query, read: PlacesRead) -> bool:
    """Does the API hold more than it handed out? By its own count, or by an end on a full page, whatever it counts."""
    seen = query.seen + len(read.rows) + read.empty
    if read.more:
        return query.page >= recipe.limit
    if read.total is not None and read.total > seen:
        return True
    return seen > 0 and recipe.page_size >= ROUND and seen % recipe.page_size == 0


def read(query: Query, endpoint: Endpoint, reply: SourceReply) -> Reading:
    """Read one page; a place without a name is counted as unreadable."""
    recipe = _recipe(endpoint)
    try:
        found = read_places(recipe, _asked(query), reply.body, reply.headers, reply.url or recipe.address)
    except RecipeError as error:
        raise SourceFailure(str(error), "check the address, the key and the paths of its recipe") from None
    listings, unreadable = [], found.empty
    for place, row in enumerate(found.rows):
        try:
            listings.append(_listing(row, query, query.seen + place + 1))
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
