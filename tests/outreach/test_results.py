"""What came of contacts: whatever is noted, in whatever order, holds on every list, reaches everybody it must, and is undone whole."""

import dataclasses
import sqlite3
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from openacorn.business.store import action_log, businesses, listings, outcomes, pipeline, relationships, shortlists
from openacorn.business.store.pipeline import Move
from openacorn.core.gather.listing import Listing
from openacorn.core.match.relationship import identifiers_in
from openacorn.core.outreach.results import RESULTS, ResultError
from openacorn.core.score.service import all_services
from openacorn.db.database import Database
from openacorn.desk import actions as desk
from openacorn.errors import NotFound
from openacorn.match.merging import merge_new_listings
from openacorn.outreach import replies, results
from openacorn.outreach.results import ContactReport
from openacorn.runs.store import sweeps
from openacorn.runs.store.sweeps import Plan
from openacorn.score.scorer import Scorer
from openacorn.settings import Settings
from tests.conftest import circle

SETTINGS = Settings(region="AU", home=(-37.0, 160.0))
PLAN = Plan(("florists",), (circle(-37.0, 160.0, 9000),))
AT = "2026-11-26T09:00:00+00:00"
SERVICE = all_services()[0].id
GULL = Listing(
    "listing_service", "1", "Gull Florist", "Florist", -37.0, 160.0, "14 Mill Lane", "Port Ellery", "7801", "(03) 5550 1234",
    website="https://gullflorist.example",
)  # fmt: skip
KELP = dataclasses.replace(
    GULL,
    source_id="2",
    name="Kelp Blooms",
    street="3 Quay",
    lat=-37.01,
    phone="(03) 5550 9999",
    website="https://kelp.example",
)
BRANCH = dataclasses.replace(
    GULL, source_id="3", street="90 High Street", town="Gannet Bay", lat=-37.03, phone="(03) 5550 7777"
)


@contextmanager
def three() -> Iterator[tuple[sqlite3.Connection, list[int]]]:
    """Three businesses, the third a branch of the first (one domain); all on a list, the first on two."""
    with tempfile.TemporaryDirectory() as name:
        database = Database(Path(name) / "acorn.db")
        with database.write() as conn:
            run = sweeps.add_run(conn, sweeps.add_sweep(conn, "s", sweeps.plan_to_json(PLAN), AT), AT)
            put = listings.put_listings(conn, run, "florists", (GULL, KELP, BRANCH), AT)
            merge_new_listings(conn, put.to_merge, SETTINGS)
            by_name = {(row["name"], row["town"]): row["id"] for row in businesses.all_businesses(conn)}
            ids = [
                by_name["Gull Florist", "Port Ellery"],
                by_name["Kelp Blooms", "Port Ellery"],
                by_name["Gull Florist", "Gannet Bay"],
            ]
            for title, members in (("Monday", ids), ("Tuesday", ids[:1])):
                shortlists.add_members(conn, shortlists.add_shortlist(conn, title, AT), members, AT)
            yield conn, ids
        database.close()


def state(conn: sqlite3.Connection, ids: list[int]) -> dict[str, Any]:
    """All that a contact may change, but for the log of actions."""
    return {
        "places": [pipeline.memberships(conn, business) for business in ids],
        "steps": [[step.text for step in pipeline.list_activities(conn, business)] for business in ids],
        "outcomes": [outcomes.get_outcome(conn, business) for business in ids],
        "odds": outcomes.win_probability(conn),
        "marks": relationships.known_relationships(conn),
        "relationships": [businesses.get_business(conn, business)["relationship"] for business in ids],
    }


SAYINGS = st.lists(
    st.tuples(
        st.integers(0, 2),
        st.builds(
            ContactReport, st.sampled_from(list(RESULTS)), st.just(SERVICE), st.sampled_from(["", "a note"]), st.just("2026-12-01"),
            st.sampled_from([None, 900.0]), st.just("Ada"),
        ),
    ),
    max_size=6,
)  # fmt: skip


@settings(max_examples=40)
@given(SAYINGS)
def test_whatever_is_noted_is_undone_whole(reports: list[tuple[int, ContactReport]]) -> None:
    with three() as (conn, ids):
        before = [state(conn, ids)]
        numbers = []
        for at, item in reports:
            numbers.append(results.record_result(conn, ids[at], item, AT, SETTINGS))
            before.append(state(conn, ids))
        for number in reversed(numbers):
            assert state(conn, ids) == before.pop()
            desk.undo_action(conn, number, AT, SETTINGS)
        assert state(conn, ids) == before.pop()


@settings(max_examples=40)
@given(SAYINGS)
def test_what_follows_from_what_was_said_last(reports: list[tuple[int, ContactReport]]) -> None:
    with three() as (conn, ids):
        stages = ["picked"] * 3
        for at, item in reports:
            results.record_result(conn, ids[at], item, AT, SETTINGS)
            result = RESULTS[item.result]
            row = businesses.get_business(conn, ids[at])
            forward = not (result.stage == "contacted" and stages[at] in {"talking", "proposed", "won"})
            stages[at] = result.stage if result.stage and forward else stages[at]
            assert {stage for _, stage, _ in pipeline.memberships(conn, ids[at])} == {stages[at]}  # on every list
            if result.relationship:
                assert row["relationship"] == result.relationship
            if result.relationship == "refused":
                branch = businesses.get_business(conn, ids[2 if at == 0 else at])
                assert branch["relationship"] == "refused"  # under the same domain they are not called either
                assert Scorer(conn).inputs(row)[2].used == ()
            called = {call.id for call in pipeline.list_calls(conn, 1, "2026-12-01", AT)}
            assert not called & {
                b for b in ids if businesses.get_business(conn, b)["relationship"] in {"refused", "client"}
            }


def refused_by(conn: sqlite3.Connection, way: str, business: int) -> None:
    if way == "call":
        results.record_result(conn, business, ContactReport("refused"), AT, SETTINGS)
    elif way == "many at once":
        desk.apply_action(conn, "relationship", [business], "refused", AT, SETTINGS)
    else:
        marks, _ = identifiers_in("(03) 5550 1234", "AU")
        results.import_relationships(conn, "refused", marks, AT, SETTINGS)


def test_refused_is_one_thing_however_it_became_known() -> None:
    """By a call, by the table's bulk action, by a list: the same relationship, stage, reach and marks, and a line in the history."""
    found = {}
    for way in ("call", "many at once", "list"):
        with three() as (conn, (gull, _kelp, branch)):
            refused_by(conn, way, gull)
            rows = {row["id"]: row for row in businesses.get_businesses(conn, [gull, branch])}
            assert pipeline.list_activities(conn, gull)[0].text.startswith("refused")
            found[way] = (
                [(row["relationship"], row["reach"], row["channels"]) for row in rows.values()],
                [stage for _, stage, _ in pipeline.memberships(conn, gull)],
                relationships.known_relationships(conn),
                [(item.service, item.stage) for item in outcomes.get_outcome(conn, gull)],
            )
    assert found["many at once"] == found["call"]
    assert found["list"] == found["call"]


def test_results_that_lack_something_change_nothing() -> None:
    with three() as (conn, ids):
        before = state(conn, ids)
        for reports in (ContactReport("call back"), ContactReport("sold"), ContactReport("won", service="nothing")):
            with pytest.raises(ResultError):
                results.record_result(conn, ids[0], reports, AT, SETTINGS)
        with pytest.raises(NotFound):
            results.record_result(conn, 99, ContactReport("won"), AT, SETTINGS)
        assert (state(conn, ids), action_log.list_actions(conn, 5)) == (before, [])


def test_a_card_moved_to_a_stage_does_what_its_contact_does() -> None:
    with three() as (conn, ids):
        assert results.move(conn, 1, ids[:1], Move("talking", "Bo", "2026-12-03"), "Ada", AT, SETTINGS) == 1
        assert pipeline.memberships(conn, ids[0]) == [(1, "talking", "2026-12-03"), (2, "talking", "2026-12-03")]
        assert businesses.get_business(conn, ids[0])["relationship"] == "in conversation"
        assert pipeline.last_spoken(conn, ids[0]) is not None
        results.move(conn, 1, ids[:1], Move("lost"), "Ada", AT, SETTINGS)
        assert (businesses.get_business(conn, ids[0])["relationship"], relationships.known_relationships(conn)) == (
            "",
            {},
        )
        results.move(conn, 1, ids[:1], Move("parked"), "Ada", AT, SETTINGS)
        assert [stage for _, stage, _ in pipeline.memberships(conn, ids[0])] == [
            "parked",
            "lost",
        ]  # parked is this list's own matter


@pytest.mark.parametrize(
    ("trap", "age", "text", "suspect"),
    [
        ("", 30, "Please call", ""),
        ("Spam Ltd", 30, "Please call", "nobody sees"),
        ("", 1, "Please call", "within 3 seconds"),
        ("", 90_000, "Please call", "more than a day ago"),
        ("", 30, "http://a http://b https://c", "full of links"),
        ("", 30, "see https://kelp.example", ""),
    ],
)
def test_machines_are_marked(trap: str, age: float, text: str, suspect: str) -> None:
    opened, moment = replies.stamp("abc"), time.time()
    found = replies.suspicion("abc", trap, opened, text, moment + age)
    assert suspect in found
    assert bool(found) == bool(suspect)
    for forged in ("", "x", "1000000.0", replies.stamp("other"), opened[:-1], opened + "A", "abc." + opened):
        assert "own form" in replies.suspicion("abc", "", forged, text, moment + 30)


def test_a_sender_is_bounded_by_the_hour_and_others_are_not() -> None:
    senders = replies.Senders()
    assert all(senders.allow("10.0.0.1", float(second)) for second in range(replies.SENDER_REPLIES))
    assert not senders.allow("10.0.0.1", 100.0)
    assert senders.allow("10.0.0.2", 100.0)
    assert senders.allow("10.0.0.1", replies.WINDOW_S + 1)
    assert not senders.allow("10.0.0.1", replies.WINDOW_S + 1)  # one place was free, not all
