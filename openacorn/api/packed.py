"""What goes over the line packed: the built front end's files as they were packed when built, and the API's longer answers."""

import mimetypes
from pathlib import Path

from fastapi import APIRouter, Request
from fastapi.responses import FileResponse, Response
from starlette.middleware.gzip import GZipMiddleware
from starlette.types import Receive, Scope, Send

FORMS = (("br", ".br"), ("gzip", ".gz"))
"""Content encoding and what the packed file's name ends with, the smallest first."""

FOR_GOOD = "public, max-age=31536000, immutable"
"""A file's name holds a digest of what is in it: under that name it never changes."""

LEAST_BYTES = 2_000


class PackAnswers(GZipMiddleware):
    """Packs what the API answers to a GET by gzip, where the browser takes that; not what is streamed as events."""

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer one request."""
        if scope["type"] == "http" and scope["method"] == "GET" and scope["path"].startswith("/api/"):
            await super().__call__(scope, receive, send)
        else:
            await self.app(scope, receive, send)


def assets(folder: Path) -> APIRouter:
    """Routes to the files of a folder, each known beforehand: no address, however odd, is ever looked up on the disk."""
    router, files = APIRouter(), {file.name: file for file in folder.glob("*") if file.is_file()}

    @router.get("/assets/{name}", include_in_schema=False)
    def asset(name: str, request: Request) -> Response:
        if name not in files:
            return Response(f"there is no file {name}", 404, media_type="text/plain")
        taken = {
            part.partition(";")[0].strip() for part in request.headers.get("accept-encoding", "").lower().split(",")
        }
        kind = mimetypes.guess_type(name)[0] or "application/octet-stream"
        headers = {"Cache-Control": FOR_GOOD, "Vary": "Accept-Encoding"}
        for encoding, ending in FORMS:
            if encoding in taken and name + ending in files:
                return FileResponse(
                    files[name + ending], headers={**headers, "Content-Encoding": encoding}, media_type=kind
                )
        return FileResponse(files[name], headers=headers, media_type=kind)

    return router
