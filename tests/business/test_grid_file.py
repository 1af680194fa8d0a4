"""The copy of the table's columns beside the database: read only where it is this database's, and of nobody who was erased."""

import random
from pathlib import Path

import pytest

from bench.desk import CHECKS, synthetic_rows
from bench.filled import fill_businesses
from openacorn.business import grid_file
from openacorn.business.snapshot import WORTH_A_FILE, Snapshot
from openacorn.core.audit.check import check_ids
from openacorn.core.desk.filters import Filter
from openacorn.core.desk.scored_grid import ScoredGrid
from openacorn.db.changes import next_change, touch
from openacorn.db.database import Database
from openacorn.db.folder import TABLE_COPY

ROWS = synthetic_rows(300, seed=9)


@pytest.fixture
def database(tmp_path: Path) -> Database:
    return Database(tmp_path / "acorn.db")


def filled() -> ScoredGrid:
    grid = ScoredGrid(CHECKS)
    grid.put(ROWS)
    grid.drop([ROWS[7].id])
    return grid


def kept(database: Database, grid: ScoredGrid, number: int = 5) -> bool:
    before = grid_file.mark_of(database)
    return grid_file.save(database, *grid_file.write_draft(database, grid, number), before)


def test_what_was_written_is_there_again_and_can_be_changed(database: Database) -> None:
    grid, again = filled(), ScoredGrid(CHECKS)
    assert kept(database, grid)
    size = database.path.with_name(TABLE_COPY).stat().st_size
    assert grid_file.load(database, again) == 5
    for one in (grid, again):
        one.put([ROWS[7], ROWS[3]])
    chosen = Filter(state="all")
    assert again.order(again.select(chosen), "name", 0, 300) == grid.order(grid.select(chosen), "name", 0, 300)
    assert again.facets(chosen) == grid.facets(chosen)
    assert database.path.with_name(TABLE_COPY).stat().st_size == size  # the file itself is not written to
    assert sorted(path.name for path in database.path.parent.iterdir() if "acorn-" in path.name) == []


def test_a_copy_of_another_state_of_the_database_is_passed_over(database: Database, tmp_path: Path) -> None:
    assert kept(database, filled())
    copy = database.path.with_name(TABLE_COPY)
    other = Database(tmp_path / "other" / "acorn.db")
    other.path.with_name(TABLE_COPY).write_bytes(copy.read_bytes())
    assert grid_file.load(other, ScoredGrid(CHECKS)) == -1
    assert grid_file.load(database, ScoredGrid(CHECKS[1:])) == -1  # a check was taken away
    grid_file.forget(database)
    assert not copy.exists()
    assert grid_file.load(database, ScoredGrid(CHECKS)) == -1


def test_nobody_erased_while_the_copy_was_being_written_stands_in_one(database: Database) -> None:
    before = grid_file.mark_of(database)
    draft, mark = grid_file.write_draft(database, filled(), 5)
    grid_file.forget(database)  # somebody is erased
    assert not grid_file.save(database, draft, mark, before)
    assert not draft.exists()
    assert not database.path.with_name(TABLE_COPY).exists()


def test_a_damaged_copy_is_passed_over_and_never_an_error(database: Database) -> None:
    kept(database, filled())
    path = database.path.with_name(TABLE_COPY)
    sound = path.read_bytes()
    rng = random.Random(2)
    for cut in (0, 1, 7, 8, 60, len(sound) // 2, len(sound) - 1, *(rng.randrange(len(sound)) for _ in range(20))):
        path.write_bytes(sound[:cut])
        assert grid_file.load(database, ScoredGrid(CHECKS)) == -1
    for _ in range(60):  # the head, where everything is described
        at = rng.randrange(300)
        path.write_bytes(sound[:at] + bytes([rng.randrange(256)]) + sound[at + 1 :])
        grid_file.load(database, ScoredGrid(CHECKS))
    path.write_bytes(sound)
    assert grid_file.load(database, ScoredGrid(CHECKS)) == 5


def test_a_start_begins_with_the_copy_and_goes_on_with_what_has_changed_since(tmp_path: Path) -> None:
    fill_businesses(tmp_path, WORTH_A_FILE + 1)
    database = Database(tmp_path / "acorn.db")
    Snapshot(database, check_ids).warm()
    assert (tmp_path / TABLE_COPY).exists()
    with database.write() as conn:
        conn.execute("UPDATE business SET name = 'Zebra Vets', value = 9999 WHERE id = 17")
        touch(conn, [17])
        conn.execute("DELETE FROM business WHERE id = 4")
        conn.execute("INSERT INTO business_gone (id, changed) VALUES (4, ?)", (next_change(conn),))
    again, unaided = Snapshot(database, check_ids), Snapshot(database, check_ids)
    with again.current(exact=True) as grid:
        ids, total = grid.order(grid.select(Filter()), "-value", 0, 50), len(grid.ids[grid.ids >= 0])
        assert grid.find("zebra", 5) == [17]
    (tmp_path / TABLE_COPY).unlink()
    with unaided.current(exact=True) as grid:
        assert grid.order(grid.select(Filter()), "-value", 0, 50) == ids
    assert (ids[0], total) == (17, WORTH_A_FILE)
