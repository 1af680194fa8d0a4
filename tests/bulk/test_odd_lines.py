"""Whatever stands in a line: it is taken in or refused by its number, the others are taken in, and the store stays sound."""

import json
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from openacorn.bulk.errors import BulkError
from openacorn.bulk.taking_in import take_in
from openacorn.bulk.writing import write_lines
from openacorn.business.store import relationships
from openacorn.db.database import Database
from openacorn.db.folder import DATABASE
from openacorn.settings import Settings

SETTINGS = Settings(agency="Wrenfold Studio", region="AU")
HEADER = {
    "open_acorn": 1, "made_at": "2026-11-30T09:00:00+00:00", "agency": "Ferris & Lund", "businesses": 1, "sources": {"file:1": "Spring fair"},
    "trades": [], "relationships": [],
}  # fmt: skip
WHOLE: dict[str, Any] = {
    "business": {"name": "Gullhaven Vets", "rejected": ""},
    "listings": [{
        "source": "file:1", "source_id": "7", "trade": "vets", "seen_at": "2026-11-30T08:00:00+00:00",
        "listing": {"name": "Gullhaven Vets", "street": "7 Pier Rd", "town": "Gullhaven", "postcode": "4417", "lat": -37.0, "lon": 160.0,
                    "phone": "03 5550 0100", "website": "https://gullhaven-vets.example", "rating": 4.5, "reviews": 31},
    }],
    "corrections": {"street": "8 Pier Rd"}, "verdict": None,
    "audit": {"website": "https://gullhaven-vets.example", "at": "2026-11-30T08:10:00+00:00", "beyond": {}},
    "findings": [{"check": "https", "outcome": "gap", "value": None, "reason": "no HTTPS", "evidence": [{"url": "x", "at": "y", "snippet": "z"}]}],
    "contacts": [{"kind": "email", "value": "hello@gullhaven-vets.example", "how": "link", "url": "https://gullhaven-vets.example/"}],
    "people": [], "scores": [], "tags": ["harbour"],
    "lists": [{"list": "Spring", "stage": "talking", "added_at": "2026-11-30T08:20:00+00:00", "follow_up": "2026-12-24"}],
    "history": [{"at": "2026-11-30T08:30:00+00:00", "by": "Mo", "text": "rang", "kind": "talk"}],
    "results": [{"service": "speed", "contacted_at": "2026-11-30T08:30:00+00:00", "stage": "won", "amount": 900.0}],
}  # fmt: skip
SIMPLE = st.one_of(
    st.none(), st.booleans(), st.integers(), st.integers(-(10**30), 10**30), st.floats(), st.text(max_size=30),
    st.sampled_from(["", "x" * 5000, "javascript:alert(1)", "2026-13-45T99:99:99+00:00", "\x00", "https://", "-1", "🦊", "' OR 1=1 --", "%", "{}"]),
)  # fmt: skip
ODD = st.recursive(
    SIMPLE,
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=8), inner, max_size=3),
    max_leaves=6,
)


def places(value: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """Every place in a line at which something can stand."""
    yield path
    parts = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for key, part in parts:
        yield from places(part, (*path, key))


def changed(value: Any, path: tuple[Any, ...], to: Any) -> Any:
    if not path:
        return to
    copy = dict(value) if isinstance(value, dict) else list(value)
    copy[path[0]] = changed(value[path[0]], path[1:], to)
    return copy


PLACES = st.sampled_from(sorted(places(WHOLE), key=str))


def named(line: dict[str, Any], number: int) -> dict[str, Any]:
    """The same with another business's name and number."""
    text = json.dumps(line).replace("Gullhaven Vets", f"Vets of Pier {number}").replace('"7"', f'"{number}"')
    found: dict[str, Any] = json.loads(
        text.replace("gullhaven-vets", f"vets-{number}").replace("5550 0100", f"5550 01{number:02}")
    )
    return found


@pytest.fixture
def database(tmp_path: Path) -> Iterator[Database]:
    with closing(Database(tmp_path / DATABASE)) as opened:
        yield opened


@settings(max_examples=120, suppress_health_check=list(HealthCheck), derandomize=True)
@given(st.lists(st.tuples(PLACES, ODD), min_size=1, max_size=3))
def test_an_odd_line_is_taken_or_named_and_harms_nobody(
    tmp_path_factory: pytest.TempPathFactory, changes: list[tuple[Any, Any]]
) -> None:
    odd: Any = WHOLE
    for path, to in changes:
        if path in set(places(odd)):
            odd = changed(odd, path, to)
    lines = [HEADER, named(WHOLE, 11), odd, named(WHOLE, 12)]
    folder: Path = tmp_path_factory.mktemp("odd")
    with closing(Database(folder / DATABASE)) as database:
        done = take_in(database, SETTINGS, [json.dumps(line, allow_nan=True).encode() for line in lines])
        assert {text.split(":")[0] for text in done.refused} <= {"line 3"}
        assert done.businesses in {2, 3}
        found = {json.loads(line)["business"]["name"] for line in list(write_lines(database, SETTINGS))[1:]}
        assert {"Vets of Pier 11", "Vets of Pier 12"} <= found
        with database.read() as conn:
            assert conn.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
            assert conn.execute("PRAGMA foreign_key_check").fetchone() is None
            assert conn.execute("SELECT count(*) FROM run WHERE state != 'done'").fetchone()[0] == 0
        again = take_in(database, SETTINGS, [json.dumps(line, allow_nan=True).encode() for line in lines])
        assert again.new == 0, "twice changes nothing"


@given(st.dictionaries(st.text(max_size=12), ODD, max_size=5) | ODD)
def test_a_first_line_that_is_none_changes_nothing(tmp_path_factory: pytest.TempPathFactory, head: Any) -> None:
    with closing(Database(tmp_path_factory.mktemp("head") / DATABASE)) as database:
        with pytest.raises(BulkError):
            take_in(database, SETTINGS, [json.dumps(head).encode(), json.dumps(WHOLE).encode()])
        with database.read() as conn:
            assert conn.execute("SELECT count(*) FROM listing").fetchone()[0] == 0
            assert conn.execute("SELECT count(*) FROM run").fetchone()[0] == 0


def test_a_file_of_theirs_is_not_taken_for_one_of_ours(database: Database) -> None:
    """Both have a "file:1"; only where agency and title are the same it is the same file."""
    theirs = {**HEADER, "sources": {}}
    take_in(database, SETTINGS, [json.dumps(theirs).encode(), json.dumps(WHOLE).encode()])
    with database.read() as conn:
        assert conn.execute("SELECT source FROM listing").fetchall()[0][0] == "file:1 (Ferris & Lund, file 1)"
        assert conn.execute("SELECT count(*) FROM listing WHERE source = 'file:1'").fetchone()[0] == 0


@pytest.mark.parametrize("name", ["identifier_type", "known_by"])
def test_whom_an_earlier_version_knew_is_known(tmp_path: Path, name: str) -> None:
    """What a business is recognised by went under another name in files of before."""
    known = {"kind": "refused", name: "domain", "value": "no-thanks.example", "shown": "no-thanks.example"}
    with closing(Database(tmp_path / DATABASE)) as database:
        take_in(database, SETTINGS, [json.dumps(HEADER | {"relationships": [known], "businesses": 0}).encode()])
        with database.read() as conn:
            assert relationships.known_relationships(conn) == {("domain", "no-thanks.example"): "refused"}
