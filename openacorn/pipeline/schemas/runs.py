"""Runs: progress, notes, tiles."""

from openacorn.api.schemas import ResponseModel
from openacorn.gather.schemas.sweeps import PlanResponse
from openacorn.runs.store.sweeps import Note


class Progress(ResponseModel):
    """Units by state: queries to the sources, audits of businesses, looks in a browser, pieces of files to be merged."""

    queries_done: int
    queries_left: int
    queries_failed: int
    queries_skipped: int
    audits_done: int
    audits_left: int
    audits_failed: int
    merges_done: int
    merges_left: int
    looks_done: int
    looks_left: int
    pages_done: int
    pages_left: int


class LaneResponse(ResponseModel):
    """One source's part of a run: its questions by state and the rows they brought."""

    source: str
    title: str
    done: int
    left: int
    failed: int
    skipped: int
    rows: int


class RunResponse(ResponseModel):
    """A run as it stands. `share`: of the work known so far, 0…1."""

    id: int
    sweep_id: int
    sweep: str
    plan: PlanResponse
    state: str
    why: str
    remedy: str
    started_at: str
    ended_at: str | None
    requests: int
    retries: int
    cost: float
    found: int
    held: int
    rejected: dict[str, int]
    progress: Progress
    lanes: list[LaneResponse]
    doubts: int
    share: float
    cut_short: int
    failed: int
    notes: list[Note]


class RunLine(ResponseModel):
    """A run in a list."""

    id: int
    sweep_id: int
    sweep: str
    state: str
    why: str
    started_at: str
    ended_at: str | None
    held: int


class TileResponse(ResponseModel):
    """One question to the source on the map. state: ready, doing, done, failed, skipped."""

    south: float
    west: float
    north: float
    east: float
    source: str
    trade: str
    state: str
    rows: int
    full: bool
