"""Runs: watch, pause, resume, end."""

import asyncio
import sqlite3
from collections.abc import AsyncIterator

from fastapi import APIRouter
from fastapi.responses import StreamingResponse

from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import DeskRoute
from openacorn.business.store import businesses, decisions, listings
from openacorn.gather.queries import decode_query
from openacorn.gather.reach import source_titles
from openacorn.gather.schemas.sweeps import plan_response
from openacorn.pipeline.schemas.runs import LaneResponse, Progress, RunLine, RunResponse, TileResponse
from openacorn.runs.store import sweeps, tasks

router = APIRouter(route_class=DeskRoute, tags=["runs"])
NOTES_SHOWN = 100


def _progress(counts: dict[tuple[str, str], int]) -> Progress:
    def of(kind: str, *states: str) -> int:
        return sum(counts.get((kind, state), 0) for state in states)

    return Progress(
        queries_done=of("query", "done"),
        queries_left=of("query", "ready", "doing"),
        queries_failed=of("query", "failed"),
        queries_skipped=of("query", "skipped"),
        audits_done=of("audit", "done"),
        audits_left=of("audit", "ready", "doing"),
        audits_failed=of("audit", "failed"),
        merges_done=of("merge", "done"),
        merges_left=of("merge", "ready", "doing"),
        looks_done=of("look", "done"),
        looks_left=of("look", "ready", "doing"),
        pages_done=of("page", "done"),
        pages_left=of("page", "ready", "doing"),
    )


def _lanes(conn: sqlite3.Connection, run_id: int) -> list[LaneResponse]:
    found: dict[str, LaneResponse] = {}
    titles = source_titles(conn)
    for item in tasks.lane_counts(conn, run_id):
        if item.lane not in found:
            found[item.lane] = LaneResponse(
                source=item.lane, title=titles.get(item.lane, item.lane), done=0, left=0, failed=0, skipped=0, rows=0
            )
        lane = found[item.lane]
        name = {"ready": "left", "doing": "left"}.get(item.state, item.state)
        setattr(lane, name, getattr(lane, name) + item.units)
        lane.rows += item.rows
    return list(found.values())


def _response(state: AppState, run_id: int) -> RunResponse:
    with state.database.read() as conn:
        run = state.runs.as_it_stands(sweeps.get_run(conn, run_id))
        progress = _progress(tasks.counts(conn, run_id))
        held, rejected = businesses.held_in_run(conn, run_id)
        notes, kinds = sweeps.list_notes(conn, run_id, NOTES_SHOWN)
        found = listings.count_seen(conn, run_id)
        lanes = _lanes(conn, run_id)
        doubts = decisions.count_open(conn)
    counts = progress.model_dump()
    done = sum(count for name, count in counts.items() if name.endswith("_done"))
    known = done + sum(count for name, count in counts.items() if name.endswith("_left"))
    return RunResponse(
        id=run.id,
        sweep_id=run.sweep_id,
        sweep=run.sweep,
        plan=plan_response(sweeps.plan_from_json(run.plan)),
        state=run.state,
        why=run.why,
        remedy=run.remedy,
        started_at=run.started_at,
        ended_at=run.ended_at,
        requests=run.requests,
        retries=run.retries,
        cost=run.cost,
        found=found,
        held=held,
        rejected=rejected,
        progress=progress,
        lanes=lanes,
        doubts=doubts,
        share=1.0 if run.state == "done" else done / known if known else 0.0,
        cut_short=kinds.get("cut short", 0),
        failed=kinds.get("failed", 0),
        notes=notes,
    )


@router.get("/runs")
def list_runs(state: AppDep) -> list[RunLine]:
    """All runs, newest first."""
    with state.database.read() as conn:
        return [
            RunLine(
                id=run.id, sweep_id=run.sweep_id, sweep=run.sweep, state=run.state, why=run.why,
                started_at=run.started_at, ended_at=run.ended_at, held=businesses.held_in_run(conn, run.id)[0],
            )
            for run in map(state.runs.as_it_stands, sweeps.list_runs(conn))
        ]  # fmt: skip


@router.get("/runs/{run_id}")
def get_run(state: AppDep, run_id: int) -> RunResponse:
    """One run as it stands."""
    return _response(state, run_id)


@router.get("/runs/{run_id}/tiles")
def get_tiles(state: AppDep, run_id: int) -> list[TileResponse]:
    """The questions of a run on the map: one tile a trade and place, its pages taken together."""
    with state.database.read() as conn:
        sweeps.get_run(conn, run_id)
        rows = tasks.tiles(conn, run_id)
    tiles: dict[tuple[str, str, str], TileResponse] = {}
    for row in rows:
        query = decode_query(row.payload)
        tile = query.tile
        if tile is None:
            continue  # asked by a place's name
        tiles[(f"{row.lane} {query.trade}", query.word, tile.key)] = TileResponse(
            south=tile.south, west=tile.west, north=tile.north, east=tile.east, source=row.lane, trade=query.trade, state=row.state,
            rows=query.seen + (row.rows or 0), full=row.full,
        )  # fmt: skip
    return list(tiles.values())


@router.get("/runs/{run_id}/events")
async def watch_run(state: AppDep, run_id: int) -> StreamingResponse:
    """Server-sent events: the run whenever it changed, until it ends."""
    await asyncio.to_thread(_response, state, run_id)

    def look() -> tuple[str, bool]:
        run = _response(state, run_id)
        return run.model_dump_json(), run.state != "running"

    async def events() -> AsyncIterator[str]:
        async for text in state.watching.follow(run_id, look):
            yield f"data: {text}\n\n"

    return StreamingResponse(events(), media_type="text/event-stream", headers={"Cache-Control": "no-cache"})


@router.post("/runs/{run_id}/stop")
def stop_run(state: AppDep, run_id: int) -> RunResponse:
    """Ask a run to end soon; what it has is kept."""
    result = _response(state, run_id)
    state.runs.stop(run_id)
    return result


@router.post("/runs/{run_id}/end")
async def end_run(state: AppDep, run_id: int) -> RunResponse:
    """Finish a run with what it has: what was still to be asked is left out, and the run says so."""
    await asyncio.to_thread(_response, state, run_id)
    await state.runs.end(run_id)
    return await asyncio.to_thread(_response, state, run_id)


@router.post("/runs/{run_id}/resume")
def resume_run(state: AppDep, run_id: int, source: str | None = None) -> RunResponse:
    """Go on with a stopped or failed run, or try again what failed in a finished one, all of it or one source's part."""
    _response(state, run_id)
    state.runs.resume(run_id, source)
    return _response(state, run_id)
