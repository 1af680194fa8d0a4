"""Runs: watch, pause, resume, end."""

import asyncio
import sqlite3
from collections.abc import AsyncIterator

from fastapi import APIRouter
from fastapi.responses import StreamingResponse

from openacorn.api.deps import Desk, Office
from openacorn.api.models.runs import LaneTold, NoteTold, Progress, RunLine, RunTold, TileTold
from openacorn.api.routes.sweeps import told_plan
from openacorn.api.threads import DeskRoute
from openacorn.jobs.gathering import source_titles
from openacorn.jobs.queries import decode_query
from openacorn.store import businesses, decisions, listings, sweeps, units

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
        pages_done=of("page", "done"),
        pages_left=of("page", "ready", "doing"),
    )


def _lanes(conn: sqlite3.Connection, run_id: int) -> list[LaneTold]:
    found: dict[str, LaneTold] = {}
    titles = source_titles(conn)
    for item in units.lane_counts(conn, run_id):
        if item.lane not in found:
            found[item.lane] = LaneTold(
                source=item.lane, title=titles.get(item.lane, item.lane), done=0, left=0, failed=0, skipped=0, rows=0
            )
        lane = found[item.lane]
        name = {"ready": "left", "doing": "left"}.get(item.state, item.state)
        setattr(lane, name, getattr(lane, name) + item.units)
        lane.rows += item.rows
    return list(found.values())


def _told(desk: Office, run_id: int) -> RunTold:
    with desk.database.read() as conn:
        run = desk.runs.as_it_stands(sweeps.get_run(conn, run_id))
        progress = _progress(units.counts(conn, run_id))
        held, rejected = businesses.held_in_run(conn, run_id)
        notes, kinds = sweeps.list_notes(conn, run_id, NOTES_SHOWN)
        found = listings.count_seen(conn, run_id)
        lanes = _lanes(conn, run_id)
        doubts = decisions.count_open(conn)
    done = progress.queries_done + progress.audits_done + progress.merges_done + progress.pages_done
    known = done + progress.queries_left + progress.audits_left + progress.merges_left + progress.pages_left
    return RunTold(
        id=run.id,
        sweep_id=run.sweep_id,
        sweep=run.sweep,
        plan=told_plan(sweeps.plan_from_json(run.plan)),
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
        notes=[NoteTold.model_validate(note) for note in notes],
    )


@router.get("/runs")
def list_runs(desk: Desk) -> list[RunLine]:
    """All runs, newest first."""
    with desk.database.read() as conn:
        return [
            RunLine(
                id=run.id, sweep_id=run.sweep_id, sweep=run.sweep, state=run.state, why=run.why,
                started_at=run.started_at, ended_at=run.ended_at, held=businesses.held_in_run(conn, run.id)[0],
            )
            for run in map(desk.runs.as_it_stands, sweeps.list_runs(conn))
        ]  # fmt: skip


@router.get("/runs/{run_id}")
def get_run(desk: Desk, run_id: int) -> RunTold:
    """One run as it stands."""
    return _told(desk, run_id)


@router.get("/runs/{run_id}/tiles")
def get_tiles(desk: Desk, run_id: int) -> list[TileTold]:
    """The questions of a run on the map: one tile a trade and place, its pages taken together."""
    with desk.database.read() as conn:
        sweeps.get_run(conn, run_id)
        rows = units.tiles(conn, run_id)
    tiles: dict[tuple[str, str, str], TileTold] = {}
    for row in rows:
        query = decode_query(row.payload)
        tile = query.tile
        if tile is None:
            continue  # asked by a place's name
        tiles[(f"{row.lane} {query.trade}", query.word, tile.key)] = TileTold(
            south=tile.south, west=tile.west, north=tile.north, east=tile.east, source=row.lane, trade=query.trade, state=row.state,
            rows=query.seen + (row.rows or 0), full=row.full,
        )  # fmt: skip
    return list(tiles.values())


@router.get("/runs/{run_id}/events")
async def watch_run(desk: Desk, run_id: int) -> StreamingResponse:
    """Server-sent events: the run whenever it changed, until it ends."""
    await asyncio.to_thread(_told, desk, run_id)

    def look() -> tuple[str, bool]:
        run = _told(desk, run_id)
        return run.model_dump_json(), run.state != "running"

    async def events() -> AsyncIterator[str]:
        async for text in desk.watching.follow(run_id, look):
            yield f"data: {text}\n\n"

    return StreamingResponse(events(), media_type="text/event-stream", headers={"Cache-Control": "no-cache"})


@router.post("/runs/{run_id}/stop")
def stop_run(desk: Desk, run_id: int) -> RunTold:
    """Ask a run to end soon; what it has is kept."""
    told = _told(desk, run_id)
    desk.runs.stop(run_id)
    return told


@router.post("/runs/{run_id}/end")
async def end_run(desk: Desk, run_id: int) -> RunTold:
    """Finish a run with what it has: what was still to be asked is left out, and the run says so."""
    await asyncio.to_thread(_told, desk, run_id)
    await desk.runs.end(run_id)
    return await asyncio.to_thread(_told, desk, run_id)


@router.post("/runs/{run_id}/resume")
def resume_run(desk: Desk, run_id: int, source: str | None = None) -> RunTold:
    """Go on with a stopped or failed run, or try again what failed in a finished one, all of it or one source's part."""
    _told(desk, run_id)
    desk.runs.resume(run_id, source)
    return _told(desk, run_id)
