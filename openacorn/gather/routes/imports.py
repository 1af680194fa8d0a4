"""Import a file, a pasted text or a list of addresses: look, agree on the columns, start."""

import asyncio
from collections.abc import Mapping
from pathlib import Path

import orjson
from fastapi import APIRouter, Query, Request

from openacorn.api.deps import AppDep, AppState
from openacorn.api.schemas import FILE_BODY
from openacorn.api.threads import DeskRoute
from openacorn.business.store import own_trades
from openacorn.clock import utc_now
from openacorn.core.gather.encoding import ENCODINGS
from openacorn.core.gather.file_columns import HEADINGS, checked_columns
from openacorn.core.gather.pasted import PatternError, expand_addresses, read_pasted
from openacorn.db.folder import FOLDER_MODE, open_private
from openacorn.gather.importer import CountryWanted, Preview, folder_of, national_phones, preview
from openacorn.gather.list_address import fetch_list
from openacorn.gather.schemas.imports import (
    AddressRequest,
    EncodingChoice,
    EncodingRequest,
    ImportLine,
    ImportRequest,
    ImportResponse,
    PastedRequest,
    RefusedResponse,
)
from openacorn.gather.schemas.sweeps import RunStarted
from openacorn.gather.store import imports as store
from openacorn.gather.store import places
from openacorn.gather.tables import FileError, encoding_of, kind_of
from openacorn.net.client import Client
from openacorn.runs.store import sweeps
from openacorn.runs.store.sweeps import Plan, plan_to_json

router = APIRouter(route_class=DeskRoute, tags=["imports"])
LARGEST_FILE = 2 * 1024**3
WRITTEN_AT_ONCE = 1024 * 1024
ROWS_SHOWN = 20
REFUSED_SHOWN = 200


TEXT_KINDS = frozenset({"csv", "ndjson", "json", "geojson"})
PHONES_SHOWN = 3


def _path(state: AppState, import_id: int) -> Path:
    folder = folder_of(state.database)
    folder.mkdir(parents=True, exist_ok=True, mode=FOLDER_MODE)
    return folder / str(import_id)


def _wanting_a_country(state: AppState, found: Preview, columns: Mapping[str, str]) -> list[str]:
    """Phone numbers that mean nothing while no country is set."""
    return [] if state.settings.region else national_phones(found.sample, columns)


def _response(state: AppState, import_id: int, name: str) -> ImportResponse:
    with state.database.read() as conn:
        encoding = store.get_import(conn, import_id).encoding
    found = preview(_path(state, import_id), name, encoding)
    with state.database.read() as conn:
        known = store.remembered(conn, found.headings)
    columns = known or found.columns
    return ImportResponse(
        id=import_id, title=Path(name).stem, headings=found.headings, columns=columns, remembered=known is not None,
        fields=list(HEADINGS), rows=[dict(row.cells) for row in found.sample if not row.error][:ROWS_SHOWN],
        broken=[f"line {row.line}: {row.error}" for row in found.sample if row.error][:ROWS_SHOWN],
        encoding=encoding, encodings=[EncodingChoice(id=key, label=label) for key, label in ENCODINGS.items()] if encoding else [],
        notes=found.notes, national_phones=_wanting_a_country(state, found, columns)[:PHONES_SHOWN],
    )  # fmt: skip


def _guess_encoding(state: AppState, import_id: int, name: str) -> None:
    """Keep in which encoding an upload is to be read, if it is text. Raises FileError."""
    path = _path(state, import_id)
    if kind_of(path, name) in TEXT_KINDS:
        encoding = encoding_of(path, name, state.settings.region)
        with state.database.write() as conn:
            store.set_encoding(conn, import_id, encoding)


def _new(state: AppState, name: str, address: str = "") -> int:
    with state.database.write() as conn:
        return store.add_import(conn, Path(name).stem, name, utc_now(), address)


def _call(state: AppState, import_id: int, name: str) -> None:
    with state.database.write() as conn:
        store.rename(conn, import_id, Path(name).stem, name)


@router.post("/imports", status_code=201, openapi_extra=FILE_BODY)
async def upload(state: AppDep, request: Request, name: str = Query(min_length=1, max_length=200)) -> ImportResponse:
    """Send a file (its bytes as the body: CSV, XLSX, JSON, NDJSON, GeoJSON, a map extract); nothing is imported yet."""
    import_id = await asyncio.to_thread(_new, state, name)
    path, size, held = _path(state, import_id), 0, bytearray()
    try:
        with open_private(path) as file:
            async for piece in request.stream():
                size += len(piece)
                if size > LARGEST_FILE:
                    raise FileError(f"{name} is larger than {LARGEST_FILE // 2**30} GB; split it")
                held += piece
                if len(held) >= WRITTEN_AT_ONCE:
                    await asyncio.to_thread(file.write, bytes(held))
                    held.clear()
            await asyncio.to_thread(file.write, bytes(held))
        await asyncio.to_thread(_guess_encoding, state, import_id, name)
        return await asyncio.to_thread(_response, state, import_id, name)
    except BaseException:  # also when the sender goes away: an upload that cannot be imported is not kept
        path.unlink(missing_ok=True)
        raise


@router.post("/imports/address", status_code=201)
async def fetch(state: AppDep, asked: AddressRequest) -> ImportResponse:
    """Fetch a list from an address; once imported it is read again on every run."""
    address = asked.address.strip()
    import_id = await asyncio.to_thread(_new, state, "list", address)
    path = _path(state, import_id)
    try:
        async with Client(state.settings) as client:
            name = await fetch_list(client, address, path)
        await asyncio.to_thread(_call, state, import_id, name)
        await asyncio.to_thread(_guess_encoding, state, import_id, name)
        return await asyncio.to_thread(_response, state, import_id, name)
    except BaseException:
        path.unlink(missing_ok=True)
        raise


@router.put("/imports/{import_id}/encoding")
def change_encoding(state: AppDep, import_id: int, asked: EncodingRequest) -> ImportResponse:
    """Read an upload in another encoding."""
    with state.database.read() as conn:
        item = store.get_import(conn, import_id)
    preview(_path(state, import_id), item.file, asked.encoding)  # refused now if it cannot be read so
    with state.database.write() as conn:
        store.set_encoding(conn, import_id, asked.encoding)
    return _response(state, import_id, item.file)


@router.post("/imports/pasted", status_code=201)
def paste(state: AppDep, asked: PastedRequest) -> ImportResponse:
    """Rows out of a pasted text; several pastes can be appended to one another."""
    if asked.kind == "addresses":
        rows = [{"website": address} for address in expand_addresses(asked.text)]
    else:
        with state.database.read() as conn:
            here = state.settings.home
            towns = places.names_near(conn, *here) if here else []
        found = read_pasted(asked.text, towns, state.settings.region)
        rows = [{**row.cells, "from lines": ", ".join(map(str, row.lines))} for row in found]
    if not rows:
        raise PatternError(
            "no business is seen in this text: a name with a phone, address, site or e-mail below it is needed"
        )
    name = "pasted.ndjson" if asked.kind == "list" else "addresses.ndjson"
    with state.database.write() as conn:
        if asked.append_to is not None:
            name = store.get_import(conn, asked.append_to).file
        import_id = (
            asked.append_to if asked.append_to is not None else store.add_import(conn, Path(name).stem, name, utc_now())
        )
    with open_private(_path(state, import_id), "a") as file:
        file.writelines(orjson.dumps(row) + b"\n" for row in rows)
    return _response(state, import_id, name)


@router.post("/imports/{import_id}/start", status_code=201)
def start(state: AppDep, import_id: int, asked: ImportRequest) -> RunStarted:
    """Import the file by the agreed columns: all of its rows or none, then merge and audit them."""
    with state.database.read() as conn:
        if asked.trade:
            own_trades.trades_there(conn).of(asked.trade)
        item = store.get_import(conn, import_id)
    found = preview(_path(state, import_id), item.file, item.encoding)
    columns = checked_columns(asked.columns, found.headings)
    phones = _wanting_a_country(state, found, columns)
    if phones and not asked.keep_phones:
        raise CountryWanted(f"{phones[0]!r} is written without a country's code, and no country is set")
    with state.database.write() as conn:
        store.set_columns(conn, import_id, columns, asked.title.strip(), asked.trade)
        store.remember(conn, found.headings, columns)
        plan = Plan((), (), (f"file:{import_id}",), place=asked.title.strip())
        sweep_id = sweeps.add_sweep(conn, asked.title.strip(), plan_to_json(plan), utc_now())
    return RunStarted(sweep_id=sweep_id, run_id=state.runs.start(sweep_id))


@router.get("/imports")
def list_imports(state: AppDep) -> list[ImportLine]:
    """Imports that were started, with the rows that were refused and why."""
    with state.database.read() as conn:
        return [
            ImportLine(
                id=item.id, title=item.title, taken=item.taken, refused=item.refused, at=item.at,
                refused_rows=[
                    RefusedResponse(line=line, reason=reason)
                    for line, reason in store.refused_rows(conn, item.id, REFUSED_SHOWN)
                ],
            )
            for item in store.list_imports(conn)
        ]  # fmt: skip
