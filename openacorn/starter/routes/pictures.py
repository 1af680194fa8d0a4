"""Pictures of the old website: which there are, fetch one, note that the owner agreed."""

import asyncio

from fastapi import APIRouter
from fastapi.responses import Response

from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.business.store import businesses
from openacorn.clock import utc_now
from openacorn.core.starter.pictures import FoundPicture, PreparedPicture
from openacorn.starter import pictures
from openacorn.starter.public import MEDIA
from openacorn.starter.schemas.sites import ConsentRequest, PictureRequest, SitePicturesResponse
from openacorn.starter.store import site_pictures

router = APIRouter(route_class=DeskRoute, tags=["new websites"])


@router.get("/businesses/{business_id}/website/pictures")
def show_pictures(state: AppDep, business_id: int) -> SitePicturesResponse:
    """Pictures that were taken over from the old website, and those that could be."""
    with state.database.read() as conn:
        businesses.get_business(conn, business_id)
        stored = site_pictures.list_pictures(conn, business_id)
        fetched = {picture.url for picture in stored}
        waiting = [picture for picture in pictures.candidates(conn, business_id) if picture.url not in fetched]
    return SitePicturesResponse(pictures=stored, waiting=waiting)


@router.post("/businesses/{business_id}/website/pictures", status_code=201)
async def fetch(state: AppDep, business_id: int, asked: PictureRequest) -> SitePicturesResponse:
    """Fetch one of the pictures that could be taken over, and make what a website needs of it."""

    def read() -> FoundPicture:
        with state.database.read() as conn:
            return pictures.wanted(conn, business_id, asked.url)

    def write(found: FoundPicture, made: PreparedPicture) -> SitePicturesResponse:
        with state.database.write() as conn:
            pictures.keep(conn, business_id, found, made)
        return show_pictures(state, business_id)

    found = await asyncio.to_thread(read)
    body = await pictures.fetch(state.settings, found.url)
    return await asyncio.to_thread(write, found, await asyncio.to_thread(pictures.prepared, body))


@router.put("/businesses/{business_id}/website/consent")
def note_consent(state: AppDep, business_id: int, asked: ConsentRequest) -> SitePicturesResponse:
    """Note that the owner agreed to the use of the pictures that were taken over, or that they did not."""
    with state.database.write() as conn:
        site_pictures.set_agreed(conn, business_id, utc_now() if asked.agreed else "", asked.by.strip())
    return show_pictures(state, business_id)


@router.get("/businesses/{business_id}/website/pictures/{picture_id}/{width}.{form}", response_class=Response)
def show_file(state: AppDep, business_id: int, picture_id: int, width: int, form: str) -> Response:
    """A picture in one of its widths, as AVIF or WebP."""
    with state.database.read() as conn:
        body = site_pictures.get_file(conn, business_id, picture_id, width, form)
    return Response(body, media_type=MEDIA[form], headers={"Cache-Control": "private, max-age=3600"})
