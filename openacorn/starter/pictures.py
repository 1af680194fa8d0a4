"""Pictures of an old website, taken over into a new one: found in its stored pages, fetched one by one, used as the user says."""

import re
import sqlite3

from openacorn.business.store import businesses
from openacorn.clock import utc_now
from openacorn.core.starter.colours import leading_hue
from openacorn.core.starter.draft import PlacedPicture
from openacorn.core.starter.pictures import FoundPicture, PictureError, PreparedPicture, find_pictures, prepare
from openacorn.core.starter.render import SitePicture
from openacorn.errors import InvalidInput, NotFound
from openacorn.net.client import Client
from openacorn.net.errors import FetchError
from openacorn.settings import Settings
from openacorn.starter.old_site import own_pages
from openacorn.starter.store import site_pictures, starter_sites
from openacorn.starter.store.site_pictures import StoredPicture

MOST_BYTES = 15_000_000
SECONDS = 30.0
_FILE = re.compile(r"pictures/(\d{1,15})-(\d{1,5})\.(avif|webp)")


class PictureRefused(InvalidInput):
    """A picture that cannot be taken over; the message says why."""

    where = "picture"
    remedy = "go on without it, or ask the owner for it"


def candidates(conn: sqlite3.Connection, business_id: int) -> list[FoundPicture]:
    """Pictures that the stored pages of the old website show, the home page's first."""
    return find_pictures(own_pages(conn, business_id))


def wanted(conn: sqlite3.Connection, business_id: int, url: str) -> FoundPicture:
    """The candidate at an address: nothing else is fetched. Raises NotFound."""
    businesses.get_business(conn, business_id)
    found = next((picture for picture in candidates(conn, business_id) if picture.url == url), None)
    if found is None:
        raise NotFound("the old website shows no picture at this address")
    return found


async def fetch(settings: Settings, url: str) -> bytes:
    """The picture at an address. Raises PictureRefused."""
    try:
        async with Client(settings) as client:
            answer = await client.follow(url, max_body=MOST_BYTES, seconds=SECONDS)
    except FetchError as error:
        raise PictureRefused(f"the picture cannot be fetched: {error.detail}") from error
    if answer.status != 200:
        raise PictureRefused(f"the picture’s address answers HTTP {answer.status}")
    if answer.truncated:
        raise PictureRefused(f"the picture has more than {MOST_BYTES // 1_000_000} MB")
    return answer.body


def prepared(body: bytes) -> PreparedPicture:
    """A picture as a website needs it. Raises PictureRefused."""
    try:
        return prepare(body)
    except PictureError as error:
        raise PictureRefused(f"the picture cannot be used: {error}") from error


def keep(conn: sqlite3.Connection, business_id: int, found: FoundPicture, picture: PreparedPicture) -> None:
    """Store a picture; the colour of a logo becomes the new website's."""
    site_pictures.save_picture(conn, business_id, found, picture, utc_now())
    if found.logo:
        hue = leading_hue(picture.files[picture.widths[0], "webp"])
        if hue is not None:
            starter_sites.set_hue(conn, business_id, hue)


def placed(
    stored: list[StoredPicture], chosen: tuple[PlacedPicture, ...], *, agreed_only: bool
) -> tuple[SitePicture, ...]:
    """The chosen pictures, in their order, as pages show them. agreed_only: without those that no owner has agreed to."""
    by_id = {picture.id: picture for picture in stored}
    found = ((by_id[item.id], item.alt) for item in chosen if item.id in by_id)
    return tuple(
        SitePicture(str(item.id), item.widths, round(item.height * item.widths[0] / item.width), alt)
        for item, alt in found
        if item.widths and (item.agreed_at or not agreed_only)
    )


def file_at(conn: sqlite3.Connection, business_id: int, path: str) -> bytes | None:
    """The file of a picture at a path of a website, None for another path. Raises NotFound."""
    named = _FILE.fullmatch(path)
    if named is None:
        return None
    return site_pictures.get_file(conn, business_id, int(named[1]), int(named[2]), named[3])
