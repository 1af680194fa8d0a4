"""Everything as one file, for other programs, and in again."""

import asyncio
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import IO

from fastapi import APIRouter, Request
from fastapi.responses import StreamingResponse

from openacorn.api.deps import AppDep, AppState
from openacorn.api.schemas import FILE_BODY
from openacorn.api.threads import DeskRoute
from openacorn.bulk.errors import BulkError
from openacorn.bulk.schemas.lines import TakenIn
from openacorn.bulk.store.sqlite_file import write_sqlite
from openacorn.bulk.taking_in import lines_of, take_in
from openacorn.bulk.writing import header_of, records_of, write_lines
from openacorn.clock import now
from openacorn.privacy.erasing import erase_returned

router = APIRouter(route_class=DeskRoute, tags=["everything"])
LARGEST_FILE = 8 * 1024**3
CHUNK = 1024 * 1024


def _headers(suffix: str) -> dict[str, str]:
    return {"Content-Disposition": f'attachment; filename="everything-{now():%Y-%m-%d}.{suffix}"'}


@router.post("/everything.ndjson", response_class=StreamingResponse)
def get_lines(state: AppDep) -> StreamingResponse:
    """Every business with its listings, findings, people, lists and history: one JSON object a line."""
    lines = write_lines(state.database, state.settings)
    return StreamingResponse(lines, media_type="application/x-ndjson", headers=_headers("ndjson"))


@router.post("/everything.sqlite", response_class=StreamingResponse)
def get_tables(state: AppDep) -> StreamingResponse:
    """The same as a SQLite file with tables and views that docs/bulk.md describes."""
    place = tempfile.TemporaryDirectory(dir=state.folder, prefix=".acorn-everything-")  # ends with the last chunk
    target = Path(place.name) / "everything.sqlite"
    write_sqlite(target, header_of(state.database, state.settings), records_of(state.database))

    def chunks() -> Iterator[bytes]:
        with place, target.open("rb") as file:
            while chunk := file.read(CHUNK):
                yield chunk

    return StreamingResponse(chunks(), media_type="application/vnd.sqlite3", headers=_headers("sqlite"))


@router.post("/everything", openapi_extra=FILE_BODY)
async def put_lines(state: AppDep, request: Request) -> TakenIn:
    """Take a file of everything in (its bytes as the body). Done twice it changes nothing."""
    with tempfile.TemporaryFile(dir=state.folder) as file:
        size = 0
        async for piece in request.stream():
            size += len(piece)
            if size > LARGEST_FILE:
                raise BulkError(f"the file is larger than {LARGEST_FILE // 1024**3} GB")
            await asyncio.to_thread(file.write, piece)
        file.seek(0)
        return await asyncio.to_thread(_take_in, state, file)


def _take_in(state: AppState, file: IO[bytes]) -> TakenIn:
    done = take_in(state.database, state.settings, lines_of(file))
    erase_returned(state.folder, state.database)  # people erased here are not brought back by a file
    return done
