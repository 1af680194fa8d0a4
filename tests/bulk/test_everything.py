"""Everything out and in again: nothing is lost, nothing comes twice, other people's files are read, broken lines are named."""

import json
import re
import sqlite3
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest

from openacorn.bulk.taking_in import LONGEST_LINE, lines_of
from openacorn.settings import Settings
from tests.application import ROOT, Application, application
from tests.conftest import TWO_SOURCES, Coast, Swept
from tests.team.person import Person

pytestmark = pytest.mark.world
HEADER = {
    "open_acorn": 1, "made_at": "2026-11-30T09:00:00+00:00", "agency": "Ferris & Lund", "businesses": 2, "sources": {"file:1": "Spring fair"},
    "trades": [{"label": "Kite maker", "plural": "Kite makers", "words": ["kites"]}],
    "relationships": [{"kind": "refused", "identifier_type": "domain", "value": "no-thanks.example", "shown": "no-thanks.example"}],
}  # fmt: skip


def line(number: int, **more: Any) -> dict[str, Any]:
    """A business as another program might write it, by the words of docs/bulk.md."""
    said = {"name": f"Kites of Pier {number}", "street": f"{number} Pier Rd", "town": "Kelpford", "postcode": "4417"}
    listing = {
        "source": "file:1",
        "source_id": str(number),
        "trade": "own/kite-maker",
        "seen_at": "2026-11-29T10:00:00+00:00",
    }
    return {"business": {}, "listings": [{**listing, "listing": {**said, **more.pop("listing", {})}}], **more}


def sent(person: Person, lines: list[Any]) -> Any:
    """What comes of a file."""
    text = b"\n".join(one if isinstance(one, bytes) else json.dumps(one).encode() for one in lines)
    answer = person.ask("POST", "/api/everything", text)
    assert answer.status == 200, answer.body
    return answer.json


def whole(person: Person) -> list[dict[str, Any]]:
    """The lines of everything, without the header."""
    answer = person.ask("POST", "/api/everything.ndjson")
    assert answer.status == 200
    head, *rest = map(json.loads, answer.body.splitlines())
    assert head["businesses"] == len(rest)
    return rest


def plain(record: dict[str, Any]) -> str:
    """A line without what one installation numbers, and without what depends on which others are there."""
    kept = {key: value for key, value in record.items() if key not in {"scores", "verdict"}}
    left_out = {"id", "offer", "score", "value", "first_seen"}
    kept["business"] = {name: value for name, value in record["business"].items() if name not in left_out}
    kept["business"]["rejected"] = record["business"]["rejected"].removeprefix("by hand: ")  # there a rule said it
    kept["findings"] = [
        item for item in record["findings"] if item["check"] not in {"reviews_volume", "rating", "search_rank"}
    ]
    return json.dumps(kept, sort_keys=True)


@pytest.fixture(scope="module")
def agency(coast: Coast, swept: Swept, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Person]:
    """An agency that has swept, corrected, listed and noted."""
    folder: Path = tmp_path_factory.mktemp("everything")
    swept(TWO_SOURCES, folder)
    with application(folder, coast.settings, coast.read("places.json")) as running:
        person = Person(running)
        ids = [row[0] for row in person.get("/api/businesses?columns=id&limit=6")["rows"]]
        number = person.do("POST", "/api/shortlists", {"name": "First round"})["id"]
        person.do("POST", f"/api/shortlists/{number}/members", {"ids": ids[:3]})
        move = {"ids": ids[:1], "stage": "talking", "owner": "Ada", "follow_up": "2026-12-24", "by": "Ada"}
        person.do("POST", f"/api/shortlists/{number}/members/move", move)
        person.do(
            "POST", f"/api/businesses/{ids[1]}/activities", {"by": "Ada", "text": "Closed on Mondays; ask for “Jo”"}
        )
        person.do("PUT", f"/api/businesses/{ids[2]}/fields/street", {"value": "1 Corrected Way"})
        person.do("POST", "/api/actions", {"kind": "tag", "ids": ids[:2], "word": "harbour"})
        person.do("POST", "/api/actions", {"kind": "reject", "ids": ids[5:6], "word": "a branch office"})
        yield person


@pytest.fixture
def empty(tmp_path: Path, coast: Coast) -> Iterator[Person]:
    with application(tmp_path / "other", Settings(region="AU"), coast.read("places.json")) as running:
        yield Person(running)


def test_out_and_in_loses_nothing_and_twice_changes_nothing(agency: Person, empty: Person) -> None:
    written = agency.ask("POST", "/api/everything.ndjson").body
    before = whole(agency)
    assert len(before) > 20
    for part in ("corrections", "verdict", "tags", "lists", "history", "findings", "contacts", "people", "audit"):
        assert any(record[part] for record in before), part
    done = empty.ask("POST", "/api/everything", written).json
    assert done == {"businesses": len(before), "new": len(before), "already_here": 0, "refused": [], "all_refused": 0}
    once = whole(empty)
    assert sorted(map(plain, once)) == sorted(map(plain, before))
    again = empty.ask("POST", "/api/everything", written).json
    assert (again["new"], again["already_here"], again["refused"]) == (0, len(before), [])
    assert whole(empty) == once
    assert empty.get("/api/businesses?limit=1")["total"] == agency.get("/api/businesses?limit=1")["total"]
    business = next(record["business"]["id"] for record in once if record["corrections"])
    shown = empty.get(f"/api/businesses/{business}")
    assert shown["street"] == "1 Corrected Way"
    assert shown["opportunities"]
    assert shown["findings"]


def test_another_programs_file_is_read(agency: Person) -> None:
    """By what docs/bulk.md says: a source of theirs, a trade of their own, who refused; what is older does not win."""
    history = [{"at": "2026-11-28T10:00:00+00:00", "by": "Mo", "text": "rang, busy", "kind": "attempt"}]
    member = {"list": "Spring", "stage": "contacted", "added_at": "2026-11-28T09:00:00+00:00"}
    one = line(1, listing={"website": "https://no-thanks.example/"})
    two = line(2, history=history, lists=[member], tags=["fair"])
    done = sent(agency, [HEADER, one, two])
    assert (done["new"], done["refused"]) == (2, [])
    found = {record["business"]["name"]: record for record in whole(agency)}
    assert found["Kites of Pier 1"]["business"]["relationship"] == "refused"
    assert found["Kites of Pier 2"]["history"] == history
    assert found["Kites of Pier 2"]["listings"][0]["source"] == "Spring fair (Ferris & Lund, file 1)"
    assert found["Kites of Pier 2"]["business"]["trade"] == "own/kite-maker"
    older = line(2, listing={"phone": "+61 3 5550 0101"})
    older["listings"][0]["seen_at"] = "2020-01-01T00:00:00+00:00"
    sent(agency, [HEADER, older])
    assert not next(r for r in whole(agency) if r["business"]["name"] == "Kites of Pier 2")["business"]["phone"]


def test_lines_that_cannot_be_used_are_named_and_the_others_taken(agency: Person) -> None:
    bad_outcome = line(3, findings=[{"check": "https", "outcome": "terrible"}])
    bad_beyond = line(3, audit={"website": "https://x.example", "at": "2026-11-29T10:00:00Z", "beyond": {"search": 7}})
    done = sent(
        agency,
        [HEADER, b"{not json", {"business": {}}, {**line(3), "colour": "red"}, bad_outcome, bad_beyond, b"", line(4)],
    )
    assert done["all_refused"] == 5
    assert [text.partition(":")[0] for text in done["refused"]] == ["line 2", "line 3", "line 4", "line 5", "line 6"]
    assert "colour" in done["refused"][2]
    assert done["businesses"] == 1
    for wrong in ([], [b"name,town"], [{**HEADER, "open_acorn": 2}], [line(5)]):
        answer = agency.ask(
            "POST",
            "/api/everything",
            b"\n".join(o if isinstance(o, bytes) else json.dumps(o).encode() for o in wrong),
        )
        assert answer.status == 422, wrong
        assert answer.json["error"]["remedy"].startswith("choose a file")
    assert not [r for r in whole(agency) if r["business"]["name"] == "Kites of Pier 5"]


def test_a_line_without_end_costs_no_memory(tmp_path: Path) -> None:
    path = tmp_path / "long"
    path.write_bytes(b"a\n" + b"x" * (2 * LONGEST_LINE + 5) + b"\nb\n")
    with path.open("rb") as file:
        assert [len(one) for one in lines_of(file)] == [2, LONGEST_LINE + 1, 2]


def test_the_sqlite_file_says_the_same_and_its_queries_run(agency: Person, tmp_path: Path) -> None:
    path = tmp_path / "all.sqlite"
    path.write_bytes(agency.ask("POST", "/api/everything.sqlite").body)
    lines = whole(agency)
    with closing(sqlite3.connect(path)) as conn:
        conn.row_factory = sqlite3.Row
        assert conn.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
        for table, part in {
            "finding": "findings",
            "person": "people",
            "list_member": "lists",
            "history": "history",
            "tag": "tags",
        }.items():
            assert conn.execute(f"SELECT count(*) FROM {table}").fetchone()[0] == sum(
                len(record[part]) for record in lines
            ), table
        for record in lines[:20]:
            row = dict(conn.execute("SELECT * FROM business WHERE id = ?", (record["business"]["id"],)).fetchone())
            assert row == {name: value for name, value in record["business"].items() if name in row}
        document = (ROOT / "docs" / "bulk.md").read_text(encoding="utf-8")
        for view in re.search(r"Views: (.*?)\. ", document, re.DOTALL).group(1).replace("\n", " ").split("`")[1::2]:  # type: ignore[union-attr]
            conn.execute(f"SELECT * FROM {view}").fetchall()
        (queries,) = re.findall(r"```sql\n(.*?)```", document, re.DOTALL)
        assert [len(conn.execute(query).fetchall()) > 0 for query in queries.split(";")[:-1]] == [True, True, False]


def test_a_table_is_left_on_no_disk(agency: Person, app_folder: Path) -> None:
    agency.ask("POST", "/api/everything.sqlite")
    assert not list(app_folder.glob(".acorn-everything*"))


@pytest.fixture
def app_folder(agency: Person) -> Path:
    running: Application = agency.app
    return running.folder
