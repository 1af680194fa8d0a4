"""Nobody waits: for the writer, for a large change of the table, for others who watch, for PDFs."""

import asyncio
import sqlite3
import threading
import time
from collections.abc import Iterable
from concurrent.futures import ProcessPoolExecutor

import pypdfium2
import pytest

from openacorn.business.snapshot import Snapshot
from openacorn.business.store import membership
from openacorn.db import changes
from openacorn.db.database import STRICT, BlockingCall, Database
from openacorn.db.writers_queue import Queue
from openacorn.outreach.printing import Press
from openacorn.outreach.store import owner_pages
from openacorn.outreach.views import Views
from openacorn.runs.watching import Watching
from tests.desk.test_deliveries import add


def test_who_came_first_is_served_first() -> None:
    queue, served, threads = Queue(), list[int](), list[threading.Thread]()

    def work(number: int) -> None:
        with queue:
            served.append(number)

    with queue:
        for number in range(8):
            threads.append(threading.Thread(target=work, args=(number,)))
            threads[-1].start()
            while len(queue._others) <= number:
                time.sleep(0.001)
    with queue:  # who asks again at once does not overtake
        served.append(8)
    for thread in threads:
        thread.join()
    assert served == list(range(9))


def test_an_error_hands_the_queue_on() -> None:
    queue = Queue()
    with pytest.raises(KeyError), queue:
        raise KeyError
    with queue:
        pass


def test_a_call_that_would_block_a_loop_is_an_error_in_tests(
    database: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    async def scene() -> None:
        with pytest.raises(BlockingCall), database.read():
            pass
        with pytest.raises(BlockingCall), database.write():
            pass

    monkeypatch.setenv(STRICT, "1")
    asyncio.run(scene())
    with database.read(), database.write():
        pass


def test_a_large_change_holds_nobody_up_and_arrives(database: Database, monkeypatch: pytest.MonkeyPatch) -> None:
    snapshot = Snapshot(database, lambda: ("title",))
    add(database, "Gull Vets")
    snapshot.warm()
    slow = threading.Event()
    catch_up = snapshot._catch_up

    def slowly() -> int:
        assert slow.wait(30)
        return catch_up()

    monkeypatch.setattr(snapshot, "_catch_up", slowly)
    add(database, "Heron Vets")
    with snapshot.current() as grid:  # it does not come to an end, and this answers all the same
        assert (len(grid), grid.behind) == (1, True)
    slow.set()
    with snapshot.current(exact=True) as grid:
        assert (len(grid), grid.behind) == (2, False)


def test_many_that_change_are_shown_as_they_were_and_many_that_come_are_waited_for(
    database: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    snapshot = Snapshot(database, lambda: ("title",))
    monkeypatch.setattr("openacorn.business.snapshot.BATCH", 2)
    monkeypatch.setattr("openacorn.business.snapshot.PATIENCE_S", 250.0)  # whoever waits for it fails this test
    add(database, "Gull Vets", "Heron Vets", "Plover Vets", "Tern Vets")
    snapshot.warm()
    with monkeypatch.context() as held_up:
        over, groups_of = threading.Event(), membership.groups_of

        def slowly(conn: sqlite3.Connection, ids: Iterable[int]) -> dict[int, dict[str, list[str]]]:
            assert over.wait(30)
            return groups_of(conn, ids)

        held_up.setattr(membership, "groups_of", slowly)
        with database.write() as conn:
            changes.touch(conn, [1, 2, 3, 4])
        with snapshot.current() as grid:
            assert (len(grid), grid.behind) == (4, True)
        over.set()
        with snapshot.current(exact=True) as grid:
            assert grid.behind is False
    add(database, "Ruff Vets", "Knot Vets", "Stint Vets")
    with snapshot.current() as grid:
        assert (len(grid), grid.behind) == (7, False)


def test_a_fault_in_following_is_told_to_who_waits_and_goes_away(
    database: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    snapshot = Snapshot(database, lambda: ("title",))
    add(database, "Gull Vets")
    with monkeypatch.context() as patch:
        patch.setattr(snapshot, "_catch_up", lambda: 1 // 0)
        with pytest.raises(ZeroDivisionError):
            snapshot.warm()
    with snapshot.current(exact=True) as grid:
        assert len(grid) == 1


def test_many_watchers_are_one_reader() -> None:
    looks = []

    def look() -> tuple[str, bool]:
        looks.append(1)
        return str(min(len(looks), 3)), len(looks) >= 5

    async def scene() -> list[list[str]]:
        watching = Watching()

        async def watch() -> list[str]:
            return [text async for text in watching.follow(1, look)]

        try:
            return await asyncio.gather(*(watch() for _ in range(30)))
        finally:
            await watching.close()

    answer = asyncio.run(scene())
    assert len(looks) == 5
    assert all(texts == ["1", "2", "3"] for texts in answer)


def test_a_watcher_that_goes_ends_the_reading_and_a_fault_is_told() -> None:
    looks = []

    def look() -> tuple[str, bool]:
        looks.append(1)
        if len(looks) > 3:
            raise KeyError("gone")
        return str(len(looks)), False

    async def scene() -> None:
        watching = Watching()
        async for _ in watching.follow(1, look):
            break
        await asyncio.gather(*watching._reading)
        assert len(looks) <= 2
        with pytest.raises(KeyError):
            async for _ in watching.follow(1, look):
                pass

    asyncio.run(scene())


def test_views_are_counted_in_memory_and_written_down_once(database: Database) -> None:
    views = Views(owner_pages.count_views)
    with database.write() as conn:
        conn.execute("PRAGMA foreign_keys = OFF")
    add(database, "Gull Vets")
    with database.write() as conn:
        conn.execute(
            "INSERT INTO owner_page (id, token, business_id, sections, draft, made_at) "
            "SELECT 1, 't', id, '[]', '{}', 'now' FROM business LIMIT 1"
        )

    def kept() -> tuple[int, str]:
        with database.read() as conn:
            return tuple(conn.execute("SELECT views, viewed_at FROM owner_page").fetchone())

    held = threading.Event()
    release = threading.Event()

    def hold() -> None:
        with database.write():
            held.set()
            release.wait(30)

    writer = threading.Thread(target=hold)
    writer.start()
    assert held.wait(30)
    for number in range(45):  # while somebody writes
        views.count(1, f"moment {number:02}")
    assert views.of(1) == (45, "moment 44")
    release.set()
    writer.join()
    views.write_down(database)
    assert (kept(), views.of(1)) == ((45, "moment 44"), (0, ""))
    views.write_down(database)
    assert kept()[0] == 45


def test_one_page_asked_for_by_many_is_printed_once(monkeypatch: pytest.MonkeyPatch) -> None:
    async def scene() -> None:
        press = Press()
        made = []
        workers = press._workers

        def counted() -> ProcessPoolExecutor:
            made.append(1)
            return workers()

        monkeypatch.setattr(press, "_workers", counted)
        try:
            bodies = await asyncio.gather(*(press.pdf("<p>Gull Vets</p>") for _ in range(20)))
            again = await press.pdf("<p>Gull Vets</p>")
            other = await press.pdf("<p>Heron Vets</p>")
        finally:
            press.close()
        assert len(made) == 2
        assert set(bodies) == {again}
        assert "Heron" in pypdfium2.PdfDocument(other)[0].get_textpage().get_text_range()

    asyncio.run(scene())


def test_a_printer_that_dies_is_replaced() -> None:
    async def scene() -> None:
        press = Press()
        try:
            await press.pdf("<p>one</p>")
            pool = press._pool
            assert pool is not None
            for process in pool._processes.values():
                process.kill()
            for _ in range(50):  # until the library has noticed
                try:
                    assert (await press.pdf("<p>two</p>")).startswith(b"%PDF")
                    return
                except Exception:
                    await asyncio.sleep(0.1)
            raise AssertionError("it prints no more")
        finally:
            press.close()

    asyncio.run(scene())
