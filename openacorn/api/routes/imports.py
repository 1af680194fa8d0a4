"""Bring in a file, a pasted text or a list of addresses: look, agree on the columns, start."""

import asyncio
from pathlib import Path

import orjson
from fastapi import APIRouter, Query, Request

from openacorn.api.deps import Desk, Office
from openacorn.api.models.imports import ImportAsked, ImportLine, ImportTold, PastedAsked, RefusedTold
from openacorn.api.models.sweeps import RunStarted
from openacorn.core.columns import HEADINGS, checked_columns
from openacorn.core.pasted import PatternError, expand_addresses, read_pasted
from openacorn.core.trades.catalogue import trade_of
from openacorn.jobs.importing import folder_of, preview
from openacorn.jobs.tables import FileError
from openacorn.net.probes.site import now
from openacorn.store import imports as store
from openacorn.store import places, sweeps
from openacorn.store.sweeps import Plan, plan_to_json

router = APIRouter(tags=["imports"])
LARGEST_FILE = 2 * 1024**3
ROWS_SHOWN = 20
REFUSED_SHOWN = 200


def _path(desk: Office, import_id: int) -> Path:
    folder = folder_of(desk.database)
    folder.mkdir(parents=True, exist_ok=True)
    return folder / str(import_id)


def _told(desk: Office, import_id: int, name: str) -> ImportTold:
    headings, sample, columns = preview(_path(desk, import_id), name)
    with desk.database.read() as conn:
        known = store.remembered(conn, headings)
    return ImportTold(
        id=import_id, title=Path(name).stem, headings=headings, columns=known or columns, remembered=known is not None,
        fields=list(HEADINGS), rows=[dict(row.cells) for row in sample if not row.error][:ROWS_SHOWN],
        broken=[f"line {row.line}: {row.error}" for row in sample if row.error][:ROWS_SHOWN],
    )  # fmt: skip


@router.post("/imports", status_code=201)
async def upload(desk: Desk, request: Request, name: str = Query(min_length=1, max_length=200)) -> ImportTold:
    """Send a file (its bytes as the body, CSV, XLSX, JSON, NDJSON or GeoJSON); nothing is taken in before it is agreed."""
    with desk.database.write() as conn:
        import_id = store.add_import(conn, Path(name).stem, name, now())
    path, size = _path(desk, import_id), 0
    with path.open("wb") as file:
        async for piece in request.stream():
            size += len(piece)
            if size > LARGEST_FILE:
                path.unlink()
                raise FileError(f"{name} is larger than {LARGEST_FILE // 2**30} GB; split it")
            file.write(piece)
    return await asyncio.to_thread(_told, desk, import_id, name)


@router.post("/imports/pasted", status_code=201)
def paste(desk: Desk, asked: PastedAsked) -> ImportTold:
    """Rows out of a pasted text; several pastes can be appended to one another."""
    if asked.kind == "addresses":
        rows = [{"website": address} for address in expand_addresses(asked.text)]
    else:
        with desk.database.read() as conn:
            here = desk.settings.home
            towns = places.names_near(conn, *here) if here else []
        found = read_pasted(asked.text, towns, desk.settings.region)
        rows = [{**row.cells, "from lines": ", ".join(map(str, row.lines))} for row in found]
    if not rows:
        raise PatternError(
            "no business is seen in this text: a name with a phone, address, site or e-mail below it is needed"
        )
    name = "pasted.ndjson" if asked.kind == "list" else "addresses.ndjson"
    with desk.database.write() as conn:
        if asked.append_to is not None:
            name = store.get_import(conn, asked.append_to).file
        import_id = (
            asked.append_to if asked.append_to is not None else store.add_import(conn, Path(name).stem, name, now())
        )
    with _path(desk, import_id).open("ab") as file:
        file.writelines(orjson.dumps(row) + b"\n" for row in rows)
    return _told(desk, import_id, name)


@router.post("/imports/{import_id}/start", status_code=201)
async def start(desk: Desk, import_id: int, asked: ImportAsked) -> RunStarted:
    """Take the file in by the agreed columns: all of its rows or none, then merge and audit them."""
    if asked.trade:
        trade_of(asked.trade)
    with desk.database.read() as conn:
        item = store.get_import(conn, import_id)
    headings, _, _ = await asyncio.to_thread(preview, _path(desk, import_id), item.file)
    columns = checked_columns(asked.columns, headings)
    with desk.database.write() as conn:
        store.agree(conn, import_id, columns, asked.title.strip(), asked.trade)
        store.remember(conn, headings, columns)
        plan = Plan((), (), (f"file:{import_id}",), place=asked.title.strip())
        sweep_id = sweeps.add_sweep(conn, asked.title.strip(), plan_to_json(plan), now())
    return RunStarted(sweep_id=sweep_id, run_id=desk.runs.start(sweep_id))


@router.get("/imports")
def list_imports(desk: Desk) -> list[ImportLine]:
    """Imports that were started, with the rows that were refused and why."""
    with desk.database.read() as conn:
        return [
            ImportLine(
                id=item.id, title=item.title, taken=item.taken, refused=item.refused, at=item.at,
                refused_rows=[
                    RefusedTold(line=line, reason=reason)
                    for line, reason in store.refused_rows(conn, item.id, REFUSED_SHOWN)
                ],
            )
            for item in store.list_imports(conn)
        ]  # fmt: skip
