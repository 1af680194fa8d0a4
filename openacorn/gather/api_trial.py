"""Read an API once by a recipe, or find one in its answer; and see whether its second page brings further places."""

from dataclasses import dataclass, replace

from openacorn.core.gather.api_finder import propose_api
from openacorn.core.gather.api_reader import PlacesRead, read_places
from openacorn.core.gather.api_recipe import ApiRecipe, Asked, call_of, without
from openacorn.core.gather.recipe import RecipeError
from openacorn.core.geo.geodesy import Circle, Point
from openacorn.core.geo.tiles import Tile, bounding_tile
from openacorn.gather.sources._source import Request, SourceFailure, SourceReply
from openacorn.net.ask import Asker
from openacorn.net.client import Client
from openacorn.net.pace import Pace

RADIUS_M = 5_000.0
NO_HOME = (51.5, -0.12)
"""Where a source is tried while no home is set: a large town, so that an empty answer means something."""


@dataclass(frozen=True, slots=True)
class ApiTrial:
    """What one look at an API brought. second: of its second page, in words."""

    recipe: ApiRecipe
    read: PlacesRead
    second: str
    second_works: bool


def tile_around(home: tuple[float, float]) -> Tile:
    """The area that a trial asks for."""
    return bounding_tile(Circle(Point(*home), RADIUS_M))


async def find_api(
    client: Client, access: ApiRecipe, address: str, body: str, said: Asked, key: str, answer: str
) -> tuple[ApiRecipe, PlacesRead]:
    """A recipe found in the answer to an address as it was pasted. access: how the key is sent; said: what the address holds.

    Raises RecipeError, SourceFailure.
    """
    if answer:
        reply = SourceReply(answer.encode())
    else:
        call = call_of(replace(access, address=address.replace("{", "%7B"), body=""), said, key)
        headers = {**call.headers, **({"Content-Type": "application/json"} if body else {})}
        reply = await Asker(client, Pace(), retries=1).ask(Request(call.url, {}, headers, body=body.encode()))
    link = reply.headers.get("link", "")
    found = propose_api(address, reply.body, said, title=access.title, body=body, link=link)
    kept = {
        name: getattr(access, name)
        for name in ("key_name", "key_in", "key_prefix", "pace_s", "cost_per_request", "cost_per_row", "cap")
    }
    recipe = replace(found, **kept)
    if recipe.key_name and recipe.key_in == "query":
        recipe = replace(recipe, address=without(recipe.address, recipe.key_name))
    return recipe, read_places(recipe, said, reply.body, reply.headers, address)


async def read_api(client: Client, recipe: ApiRecipe, asked: Asked, key: str) -> PlacesRead:
    """The places of one page. Raises RecipeError, SourceFailure."""
    call = call_of(recipe, asked, key)
    reply = await Asker(client, Pace(), retries=1).ask(Request(call.url, {}, call.headers, body=call.body or b""))
    return read_places(recipe, asked, reply.body, reply.headers, reply.url or call.url)


async def second_page(client: Client, recipe: ApiRecipe, asked: Asked, key: str, first: PlacesRead) -> tuple[str, bool]:
    """(what asking for the second page brought, does its paging work?)."""
    if recipe.by == "business":
        return "", True  # who is looked for stands on the first page
    if not first.more:
        said = "There is no further page." if recipe.paging != "none" else "No way to further pages was found."
        return said, recipe.paging != "none" or len(first.rows) < recipe.page_size
    seen = len(first.rows) + first.empty
    try:
        further = await read_api(client, recipe, replace(asked, page=2, seen=seen, cursor=first.next), key)
    except (RecipeError, SourceFailure) as error:
        return f"The second page failed: {error}.", False
    if further.rows and all(row in first.rows for row in further.rows):
        return "The second page brought the same places again: its paging is not right yet.", False
    return f"The second page brought {len(further.rows)} further places.", True
