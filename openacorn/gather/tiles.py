"""Pictures of the map from a tile service: fetched when looked at, few at once as its rules ask, and kept for a while."""

import asyncio
from collections import OrderedDict

from openacorn.errors import NotFound, Upstream
from openacorn.net.client import Client
from openacorn.net.errors import FetchError
from openacorn.settings import Settings

KEPT = 400
AT_ONCE = 2
"""Connections that public tile services allow a client (common practice)."""

MOST_BYTES = 1_000_000
KINDS = ("image/png", "image/jpeg", "image/webp")


class NoTile(Upstream):
    """The tile service did not answer with a picture."""

    where = "map_tiles"
    remedy = "check the address of the map tiles in Settings"


class Tiles:
    """Fetches tiles and keeps the latest looked at."""

    def __init__(self) -> None:
        self._kept: OrderedDict[str, tuple[str, bytes]] = OrderedDict()
        self._turn = asyncio.Semaphore(AT_ONCE)

    async def tile(self, settings: Settings, z: int, x: int, y: int) -> tuple[str, bytes]:
        """(media type, bytes) of a tile. Raises NotFound, NoTile."""
        if not settings.map_tiles:
            raise NotFound("no service of map tiles is set")
        url = settings.map_tiles
        for slot, number in (("z", z), ("x", x), ("y", y)):
            url = url.replace("{" + slot + "}", str(number))
        if url not in self._kept:
            async with self._turn:
                self._kept[url] = await self._fetched(settings, url)
            while len(self._kept) > KEPT:
                self._kept.popitem(last=False)
        self._kept.move_to_end(url)
        return self._kept[url]

    async def _fetched(self, settings: Settings, url: str) -> tuple[str, bytes]:
        try:
            async with Client(settings) as client:
                answer = await client.fetch(url, max_body=MOST_BYTES)
        except FetchError as error:
            raise NoTile(f"the map tiles cannot be fetched: {error.failure}") from None
        kind = answer.headers.get("content-type", "").partition(";")[0]
        if answer.status != 200 or kind not in KINDS:
            raise NoTile(f"the map tiles cannot be fetched: HTTP {answer.status}, {kind or 'no kind'}")
        return kind, answer.body
