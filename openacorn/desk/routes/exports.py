"""Exports: a file of what passes the filter, presets, stable links."""

import asyncio
import hmac
import secrets
import sqlite3
from dataclasses import replace

from fastapi import APIRouter, Query, Request
from fastapi.responses import StreamingResponse

from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import DeskRoute
from openacorn.clock import now, utc_now
from openacorn.core.export.format import Column, all_formats
from openacorn.core.export.layout import FileLayout, LayoutError, LayoutField, read_layout
from openacorn.desk.exports import DEFAULT_COLUMNS, chosen_columns, export_columns, format_of
from openacorn.desk.schemas.exports import (
    DeliveryResponse,
    ExportChoices,
    FormatResponse,
    LayoutRequest,
    PresetRequest,
    PresetResponse,
    SampleRequest,
)
from openacorn.desk.store import presets
from openacorn.desk.store.presets import ExportSpec, Preset
from openacorn.errors import NotFound
from openacorn.net.destinations.folder import allowed_folder

router = APIRouter(route_class=DeskRoute, tags=["exports"])
OWN_PARAMS = frozenset({"sort", "columns", "only_new"})


def _stream(state: AppState, export: ExportSpec, target: str, name: str) -> StreamingResponse:
    form = format_of(export.format)
    chosen_columns(export.columns)
    ids = state.exporter.ids(export)
    return StreamingResponse(
        state.exporter.write(export, ids, target),
        media_type=form.media_type,
        headers={"Content-Disposition": f'attachment; filename="{name}.{form.suffix}"', "X-Row-Count": str(len(ids))},
    )


@router.get("/exports")
def choices() -> ExportChoices:
    """Formats and columns."""
    return ExportChoices(
        formats=[FormatResponse(id=f.id, title=f.title, suffix=f.suffix) for f in all_formats().values()],
        columns=[Column(id=c.id, title=c.title) for c in export_columns().values()],
        usual=list(DEFAULT_COLUMNS),
    )


@router.post("/businesses/export/{format_id}", response_class=StreamingResponse)
def export(
    state: AppDep,
    request: Request,
    format_id: str,
    sort: str = "-value",
    columns: str = "",
    only_new: bool = Query(default=False),
) -> StreamingResponse:
    """Everything that passes the filter (or `ids`, what was picked), as a file. columns: ids with commas between.

    It is noted who was exported, so this is no GET: a link or a picture on somebody's page must not bring it about.
    """
    params = {key: value for key, value in request.query_params.items() if key not in OWN_PARAMS}
    wanted = ExportSpec(format_id, tuple(filter(None, columns.split(","))), params, sort, only_new)
    return _stream(state, wanted, f"{format_id} file", f"businesses-{now():%Y-%m-%d}")


def _link(preset: Preset) -> str:
    return f"/api/feeds/{preset.id}?token={preset.export.token}" if preset.export.token else ""


def _response(conn: sqlite3.Connection, preset: Preset) -> PresetResponse:
    e = preset.export
    last = [d for d in presets.list_deliveries(conn) if d.preset_id == preset.id and d.target in e.targets]
    return PresetResponse(
        id=preset.id, name=preset.name, format=e.format, columns=list(e.columns), filter=e.filter or {}, sort=e.sort,
        only_new=e.only_new, folder=e.folder, webhook=e.webhook, link=_link(preset),
        headings=len(e.layout.fields) if e.layout else 0,
        deliveries=[DeliveryResponse.model_validate(item) for item in last],
    )  # fmt: skip


@router.get("/presets")
def list_presets(state: AppDep) -> list[PresetResponse]:
    """Exports kept by name."""
    with state.database.read() as conn:
        return [_response(conn, preset) for preset in presets.list_presets(conn)]


@router.post("/exports/layout")
def read_sample(asked: SampleRequest) -> FileLayout:
    """The layout of a sample file of another tool's: its headings, each with our column that seems to fit."""
    known, found = export_columns(), read_layout(asked.content)
    fitting = tuple(field if field.column in known else replace(field, column="") for field in found.fields)
    return replace(found, fields=fitting)


def _layout(asked: LayoutRequest | None) -> FileLayout | None:
    if asked is None:
        return None
    layout = FileLayout(
        tuple(LayoutField(**item.model_dump()) for item in asked.fields), asked.delimiter, asked.encoding
    )
    if not layout.columns:
        raise LayoutError("no heading is filled by a column of ours")
    return layout


@router.post("/presets", status_code=201)
def put_preset(state: AppDep, asked: PresetRequest) -> PresetResponse:
    """Keep an export by name; one of that name is replaced, its link stays."""
    layout = _layout(asked.layout)
    columns = layout.columns if layout else tuple(asked.columns)
    format_of(asked.format)
    chosen_columns(columns)
    if asked.folder:
        allowed_folder(state.settings, state.folder, asked.folder)
    with state.database.write() as conn:
        before = next((preset for preset in presets.list_presets(conn) if preset.name == asked.name.strip()), None)
        token = (before.export.token if before else "") or secrets.token_urlsafe(24)
        made = ExportSpec(
            "csv" if layout else asked.format, columns, asked.filter, asked.sort, asked.only_new, asked.folder, asked.webhook,
            token if asked.link else "", layout,
        )  # fmt: skip
        state.exporter.ids(made)  # a filter that makes no sense is refused now, not after the next run
        return _response(conn, presets.get_preset(conn, presets.put_preset(conn, asked.name.strip(), made, utc_now())))


@router.delete("/presets/{preset_id}", status_code=204)
def drop_preset(state: AppDep, preset_id: int) -> None:
    """Forget a preset; its link ends."""
    with state.database.write() as conn:
        presets.drop_preset(conn, preset_id)


@router.post("/presets/{preset_id}/deliver")
async def deliver(state: AppDep, preset_id: int) -> PresetResponse:
    """Deliver a preset now, to each of its targets; the answer says how that ended."""
    await state.deliveries.deliver(preset_id)
    return await asyncio.to_thread(_one, state, preset_id)


def _one(state: AppState, preset_id: int) -> PresetResponse:
    with state.database.read() as conn:
        return _response(conn, presets.get_preset(conn, preset_id))


@router.post("/presets/{preset_id}/file", response_class=StreamingResponse)
def preset_file(state: AppDep, preset_id: int) -> StreamingResponse:
    """A preset's file, as it is now."""
    with state.database.read() as conn:
        preset = presets.get_preset(conn, preset_id)
    return _stream(state, preset.export, preset.name, f"export-{preset.id}-{now():%Y-%m-%d}")


@router.get("/feeds/{preset_id}", response_class=StreamingResponse)
def feed(state: AppDep, preset_id: int, token: str = "") -> StreamingResponse:
    """The stable link to a preset's file: for anybody with its token."""
    with state.database.read() as conn:
        found = [preset for preset in presets.list_presets(conn) if preset.id == preset_id]
    # the same answer for a preset that is not there and a token that is wrong: nothing can be learnt by trying
    if (
        not found
        or not found[0].export.token
        or not hmac.compare_digest(found[0].export.token.encode(), token.encode())
    ):
        raise NotFound("there is no such link, or its token is not the right one")
    return _stream(state, found[0].export, f"link of {found[0].name}", f"export-{preset_id}")
