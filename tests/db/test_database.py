"""The database: migrations once, transactions whole, readers that cannot write."""

import contextlib
import json
import sqlite3
import threading
import time
from contextlib import nullcontext
from pathlib import Path

import pytest

from openacorn.business.store import businesses, listings, outcomes, pipeline, relationships, shortlists
from openacorn.core.gather.listing import Listing
from openacorn.core.geo.geodesy import Point
from openacorn.db.database import MIGRATIONS, Database, DatabaseTooNew
from openacorn.db.writers_queue import Queue, for_somebody
from openacorn.errors import NameTaken
from openacorn.gather.queries import decode_query
from openacorn.runs.store import sweeps, tasks
from openacorn.settings_file import load_settings


def test_migrations_run_once_and_a_newer_file_is_refused(tmp_path: Path) -> None:
    path = tmp_path / "a.db"
    for _ in range(2):
        database = Database(path)
        with database.read() as conn:
            assert conn.execute("PRAGMA user_version").fetchone()[0] == len(list(MIGRATIONS.glob("*.sql")))
        database.close()
    with sqlite3.connect(path) as raw:
        raw.execute("PRAGMA user_version = 999")
    raw.close()
    with pytest.raises(DatabaseTooNew, match="update the program"):
        Database(path)


def test_a_failed_transaction_leaves_nothing(database: Database) -> None:
    with contextlib.suppress(RuntimeError), database.write() as conn:
        shortlists.add_shortlist(conn, "Monday", "now")
        raise RuntimeError
    with database.read() as conn:
        assert shortlists.list_shortlists(conn) == []


def test_readers_cannot_write_and_do_not_wait_for_the_writer(database: Database) -> None:
    with database.read() as conn, pytest.raises(sqlite3.OperationalError, match="readonly"):
        conn.execute("INSERT INTO shortlist (name, created_at) VALUES ('x', 'now')")
    with database.write() as writer:
        shortlists.add_shortlist(writer, "Monday", "now")
        with database.read() as conn:
            assert shortlists.list_shortlists(conn) == []


def test_many_threads_write_one_after_another(database: Database) -> None:
    def add(number: int) -> None:
        with database.write() as conn:
            shortlists.add_shortlist(conn, f"list {number}", "now")

    threads = [threading.Thread(target=add, args=(number,)) for number in range(20)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    with database.read() as conn:
        assert len(shortlists.list_shortlists(conn)) == 20


def test_a_name_is_taken_once(database: Database) -> None:
    with database.write() as conn:
        shortlists.add_shortlist(conn, "Monday", "now")
        with pytest.raises(NameTaken, match="'Monday'"):
            shortlists.add_shortlist(conn, "Monday", "now")


def a_run(conn: sqlite3.Connection) -> int:
    return sweeps.add_run(conn, sweeps.add_sweep(conn, "s", "{}", "now"), "now")


def test_units_are_claimed_once_and_again_after_a_crash(database: Database) -> None:
    with database.write() as conn:
        run = a_run(conn)
        tasks.add_tasks(conn, run, "query", [("a", "1"), ("b", "2"), ("a", "again")])
        first = tasks.claim(conn, run, "query", 5)
        assert [(unit.key, unit.payload) for unit in first] == [("a", "1"), ("b", "2")]
        assert tasks.claim(conn, run, "query", 5) == []
        tasks.finish(conn, first[0].id, 20)
        tasks.requeue(conn, run, failed=False)  # as after a restart
        assert [unit.key for unit in tasks.claim(conn, run, "query", 5)] == ["b"]
        tasks.fail(conn, first[1].id, "down", "wait")
        tasks.requeue(conn, run, failed=True)
        assert tasks.counts(conn, run) == {("query", "done"): 1, ("query", "ready"): 1}


def test_a_listing_seen_again_is_merged_again_only_if_it_changed(database: Database) -> None:
    with database.write() as conn:
        run = a_run(conn)
        seen = listings.put_listings(conn, run, "vets", [Listing("s", "1", "Harbour Vets", rank=1)], "now")
        assert len(seen.to_merge) == 1
        conn.execute("INSERT INTO business (id, name, trade, changed) VALUES (9, 'Harbour Vets', 'vets', 1)")
        listings.assign(conn, [(9, listing_id) for listing_id in seen.to_merge])
        again = listings.put_listings(conn, run, "vets", [Listing("s", "1", "Harbour Vets", rank=17)], "later")
        assert (again.to_merge, again.seen_again) == ((), (9,))
        renamed = listings.put_listings(conn, run, "vets", [Listing("s", "1", "Harbour Vet Clinic")], "later")
        assert renamed.to_merge == seen.to_merge


def store_before(migration: str, path: Path, script: str) -> Path:
    """A store as it was before a migration (its number), with what the script puts into it."""
    with contextlib.closing(sqlite3.connect(path)) as old:
        for number, file in enumerate(sorted(MIGRATIONS.glob("*.sql")), start=1):
            if file.name < migration:
                old.executescript(f"{file.read_text()} PRAGMA user_version = {number};")
        old.executescript(script)
        old.commit()
    return path


def test_a_store_of_the_first_version_is_carried_over(tmp_path: Path) -> None:
    """Its one-circle plans, its units and its settings are read as they were meant."""
    file = tmp_path / "acorn.db"
    tile = {"south": -37.1, "west": 160.0, "north": -37.0, "east": 160.1, "key": "2"}
    old = sqlite3.connect(file)
    old.executescript((MIGRATIONS / "0001_start.sql").read_text() + "PRAGMA user_version = 1;")
    plan = {
        "trades": ["vets"],
        "lat": -37.0,
        "lon": 160.0,
        "radius_m": 5000,
        "wanted": 3,
        "place": "Port Ellery",
        "source": "listing_service",
    }
    old.execute("INSERT INTO sweep VALUES (1, 'Vets', ?, 'now')", (json.dumps(plan),))
    old.execute("INSERT INTO run (id, sweep_id, state, started_at) VALUES (1, 1, 'stopped', 'now')")
    query = {"trade": "vets", "word": "vets", "tile": tile, "page": 2, "seen": 20}
    old.execute(
        "INSERT INTO unit (run_id, kind, key, payload) VALUES (1, 'query', 'vets/vets/2/2', ?)", (json.dumps(query),)
    )
    old.commit()
    old.close()
    database = Database(file)
    with database.write() as conn:
        kept = sweeps.get_plan(conn, 1)
        assert (kept.trades, kept.sources, kept.wanted) == (("vets",), ("listing_service",), 3)
        assert kept.territory.contains(Point(-37.0, 160.0))
        (unit,) = tasks.claim(conn, 1, "query", 1, lane="listing_service")
        read = decode_query(unit.payload)
        assert (read.key, unit.key, read.source) == (
            "listing_service/vets/vets/2/2",
            "listing_service/vets/vets/2/2",
            "listing_service",
        )
    database.close()
    (tmp_path / "settings.json").write_text('{"listing_service": {"endpoint": "http://x", "key": "k"}}')
    assert load_settings(tmp_path).source("listing_service").key == "k"


def test_all_that_is_told_of_a_business_goes_along_when_it_is_merged_or_is_made_anew(database: Database) -> None:
    made_anew = {
        "listing",
        "audit",
        "raw_page",
        "finding",
        "contact",
        "past_audit",
        "audit_event",
        "screenshot",
    }
    with database.read() as conn:
        tables = [row[0] for row in conn.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
        telling = {t for t in tables if any(c[1] == "business_id" for c in conn.execute(f"PRAGMA table_info('{t}')"))}
    assert telling == made_anew | set(businesses.MOVED)


def test_what_was_noted_before_notes_and_steps_were_one_history_is_kept(tmp_path: Path) -> None:
    script = """
        INSERT INTO business (id, name, trade, changed) VALUES (1, 'Gull', 'florists', 1);
        INSERT INTO memo (business_id, at, text) VALUES (1, '2026-02-01', 'Ask for Petra');
        INSERT INTO step (business_id, at, by, text) VALUES (1, '2026-03-01', 'Ada', 'picked → contacted'), (1, '2026-01-01', '', 'Rang');
        INSERT INTO outcome VALUES (1, 'speed', 61.5, '2026-03-01', 'won', 900, '');
        INSERT INTO sweep (id, name, plan, created_at) VALUES (1, 's', '{}', '2026');
        INSERT INTO run (id, sweep_id, state, started_at) VALUES (1, 1, 'done', '2026');
        INSERT INTO unit (run_id, kind, key, payload, rows) VALUES (1, 'query', 'k', 'p', 7);
        """
    database = Database(store_before("0010", tmp_path / "old.db", script))
    with database.read() as conn:
        assert [(step.at, step.text, step.kind) for step in pipeline.list_activities(conn, 1)] == [
            ("2026-03-01", "picked → contacted", "move"), ("2026-02-01", "Ask for Petra", "note"), ("2026-01-01", "Rang", "note"),
        ]  # fmt: skip
        assert [(kept.score, kept.amount) for kept in outcomes.get_outcome(conn, 1)] == [(61.5, 900)]
        assert tasks.counts(conn, 1) == {("query", "ready"): 1}
    database.close()


def test_checks_that_were_renamed_are_found_under_their_new_ids(tmp_path: Path) -> None:
    script = """
        INSERT INTO business (id, name, trade, changed, outcomes)
          VALUES (1, 'Gull', 'florists', 1, '{"title":"ok","theirs":"gap","profile_theirs":"ok","really_none":"unknown"}');
        INSERT INTO finding VALUES (1, 'theirs', 'gap', 'null', '[]', 'no', 0), (1, 'profile_theirs', 'ok', 'null', '[]', '', 0);
        INSERT INTO service (id, body) VALUES ('own', '{"rules":[{"check":"really_none","weight":4}]}');
        INSERT INTO angle (name, service, line, filter, made_at) VALUES ('A', 'own', 'l', '{"check.theirs":"gap"}', '2026');
        INSERT INTO sweep (id, name, plan, created_at) VALUES (1, 's', '{"trades":["vets"]}', '2026');
        INSERT INTO run (id, sweep_id, state, started_at) VALUES (1, 1, 'done', '2026');
        """
    database = Database(store_before("0012", tmp_path / "old.db", script))
    with database.read() as conn:
        outcomes_of = json.loads(conn.execute("SELECT outcomes FROM business").fetchone()[0])
        found = {row[0] for row in conn.execute("SELECT check_id FROM finding")}
        body, filter_, plan = (
            conn.execute(query).fetchone()[0]
            for query in ("SELECT body FROM service", "SELECT filter FROM angle", "SELECT plan FROM run")
        )
    database.close()
    assert outcomes_of == {
        "title": "ok",
        "site_ownership": "gap",
        "profile_theirs": "ok",
        "no_website_confirmed": "unknown",
    }
    assert found == {"site_ownership", "profile_theirs"}
    assert (json.loads(body)["rules"][0]["check"], json.loads(filter_)) == (
        "no_website_confirmed",
        {"check.site_ownership": "gap"},
    )
    assert json.loads(plan) == {"trades": ["vets"]}  # a run of before has the plan that its sweep had


def test_a_relationship_noted_under_its_old_name_is_kept_seen_and_can_be_undone(tmp_path: Path) -> None:
    script = """
        INSERT INTO business (id, name, trade, changed, standing) VALUES (1, 'Gull', 'florists', 1, 'client');
        INSERT INTO standing (kind, known_by, value, shown, at) VALUES ('client', 'domain', 'gull.example', 'gull', '2026');
        INSERT INTO webhook (id, name, url, events, made_at) VALUES (1, 'w', 'https://w.example/', '[]', '2026');
        INSERT INTO preset (name, body, made_at) VALUES ('p', '{"columns":["name","standing"]}', '2026');
        INSERT INTO angle (name, service, line, filter, made_at) VALUES ('A', 'own', 'l', '{"state":"standing"}', '2026');
        INSERT INTO deed (at, text, undo) VALUES ('2026', 't', '{"kind":"standings","before":[]}');
        """
    database = Database(store_before("0034", tmp_path / "old.db", script))
    with database.write() as conn:
        assert relationships.known_relationships(conn) == {("domain", "gull.example"): "client"}
        assert relationships.set_relationship(conn, 1, "refused")  # its event is noted by a trigger of the old schema
        assert conn.execute("SELECT count(*) FROM event WHERE type = 'business.refused'").fetchone()[0] == 1
        kept = [
            conn.execute(query).fetchone()[0]
            for query in ("SELECT body FROM preset", "SELECT filter FROM angle", "SELECT undo FROM deed")
        ]
    database.close()
    assert [json.loads(text) for text in kept] == [
        {"columns": ["name", "relationship"]},
        {"state": "relationship"},
        {"kind": "relationships", "before": []},
    ]


def test_people_write_before_what_the_program_does_by_itself_and_nobody_waits_for_ever() -> None:
    """A sweep's twenty writes wait; people come later and have their turn first, but for one of the sweep's after every twelve."""
    queue, order, started = Queue(), [], []

    def write(name: str, somebody: bool) -> None:
        with for_somebody() if somebody else nullcontext():
            started.append(name)
            with queue:
                order.append(name)

    def begin(name: str, somebody: bool) -> threading.Thread:
        thread = threading.Thread(target=write, args=(name, somebody))
        thread.start()
        while name not in started:
            time.sleep(0.001)
        time.sleep(0.005)  # until it stands in the queue
        return thread

    with queue:
        threads = [begin(f"sweep {number}", False) for number in range(4)]
        threads += [begin(f"person {number}", True) for number in range(30)]
    for thread in threads:
        thread.join()
    people = [name for name in order if name.startswith("person")]
    assert people == [f"person {number}" for number in range(30)], "in the order of arrival"
    assert [at for at, name in enumerate(order) if name.startswith("sweep")] == [12, 25, 32, 33]
    assert order[12] == "sweep 0"
