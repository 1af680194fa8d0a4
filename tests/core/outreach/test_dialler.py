"""Call lists read by the standard library; a dialler's words, collected from memory of what such programs export."""

import csv
import io

import pytest
from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.outreach.dialler import COLUMNS, USUAL, guess_fields, guess_result, write_call_list
from openacorn.core.outreach.results import RESULTS


def test_the_standard_library_reads_the_list() -> None:
    row = {
        "reference": "acorn-7",
        "number": "+61355508087",
        "business": 'Rhea "Sun" Vets, Port Ellery',
        "opening_line": "=1+1",
    }
    text = write_call_list(USUAL, [row]).decode("utf-8-sig")
    (read,) = csv.DictReader(io.StringIO(text), delimiter=csv.Sniffer().sniff(text.splitlines()[0]).delimiter)
    assert read["Number"] == "+61355508087", "as a dialler takes it (E.164)"
    assert read["Business"] == row["business"]
    assert read["Opening line"] == "'=1+1", "no spreadsheet runs it"


@given(st.dictionaries(st.sampled_from(sorted(COLUMNS)), st.text(max_size=30)))
def test_a_row_is_a_row_and_no_cell_begins_a_formula(row: dict[str, str]) -> None:
    columns = list(COLUMNS)
    text = write_call_list(columns, [row]).decode("utf-8-sig")
    read = list(csv.reader(io.StringIO(text, newline="")))
    assert [len(line) for line in read] == [len(columns)] * 2
    for name, cell in zip(columns, read[1], strict=True):
        assert not cell.startswith(("=", "@", "+", "-")) or (
            name in {"number", "other_number"} and cell.lstrip("+").isdigit()
        )


@pytest.mark.parametrize(("headings", "fields"), [
    (["Reference", "Phone", "Disposition", "Agent notes", "Call time", "Callback date"],
     {"reference": "Reference", "number": "Phone", "result": "Disposition", "note": "Agent notes", "at": "Call time",
      "follow_up": "Callback date"}),
    (["id", "dialed_number", "status", "started_at"],
     {"reference": "id", "number": "dialed_number", "result": "status", "at": "started_at"}),
    (["External ID", "Wrap-up", "Comment"], {"reference": "External ID", "result": "Wrap-up", "note": "Comment"}),
])  # fmt: skip
def test_columns_are_guessed(headings: list[str], fields: dict[str, str]) -> None:
    assert guess_fields(headings) == fields


@pytest.mark.parametrize(("word", "result"), [
    ("No Answer", "no answer"), ("BUSY", "no answer"), ("Left voicemail", "no answer"), ("Answering machine", "no answer"),
    ("Call back", "call back"), ("CALLBACK_SCHEDULED", "call back"), ("Not interested", "not interested"),
    ("Interested", "talking"), ("Connected", "talking"), ("DNC", "refused"), ("Do not call again", "refused"), ("Sale", "won"),
    ("Sold", "won"), ("Unanswered", "no answer"), ("Wrong number", ""), ("Fax", ""),
])  # fmt: skip
def test_words_mean_results(word: str, result: str) -> None:
    assert guess_result(word) == result
    assert not result or result in RESULTS
