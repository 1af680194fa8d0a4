"""A verifier's table read by its headings or by those that the user names; words are common practice."""

import pytest

from openacorn.core.audit.verdict_table import (
    VerdictColumns,
    VerdictsError,
    guess_columns,
    read_line,
    read_result,
    read_table,
)
from openacorn.core.audit.verification import Line, Stage, VerificationResult

AT = "2026-05-01T09:00:00+00:00"


@pytest.mark.parametrize(
    ("word", "result"),
    [("Valid", "valid"), ("deliverable", "valid"), ("INVALID", "dead"), ("Hard bounce", "dead"), ("disconnected", "dead"), ("accept-all", "risky"), ("catch_all", "risky"), ("", "unknown"), ("maybe", "unknown")],
)  # fmt: skip
def test_words_for_results(word: str, result: str) -> None:
    assert read_result(word) == result


@pytest.mark.parametrize(
    ("word", "line"),
    [("Mobile", "mobile"), ("WIRELESS", "mobile"), ("fixed line", "landline"), ("land-line", "landline"), ("Non-Fixed VoIP", "internet line"), ("toll free", ""), ("", "")],
)  # fmt: skip
def test_words_for_lines(word: str, line: str) -> None:
    assert read_line(word) == line


@pytest.mark.parametrize(
    ("heads", "columns"),
    [
        (["E-mail", "Status"], VerdictColumns("E-mail", "Status")),
        (
            ["Phone Number", "Valid", "Line-Type"],
            VerdictColumns("Phone Number", "Valid"),
        ),  # a hyphen is kept, as in "e-mail"
        (
            ["phone", "valid", "line type", "Checked At"],
            VerdictColumns("phone", "valid", "", "line type", "Checked At"),
        ),
        (["email", "status", "sub_status"], VerdictColumns("email", "status", "sub_status")),
        (["a", "b"], VerdictColumns()),
    ],
)
def test_columns_are_guessed_by_their_heads(heads: list[str], columns: VerdictColumns) -> None:
    assert guess_columns(heads) == columns


def test_addresses_and_numbers_with_stage_line_and_time() -> None:
    rows = [
        {"who": "A@Gull.example", "said": "bounce", "why": "SMTP", "kind": "", "day": "2026-04-02"},
        {"who": "(02) 5550 1234", "said": "active", "why": "", "kind": "cell", "day": "2026-04-02T10:00:00+10:00"},
        {"who": "+61 491 570 156", "said": "", "why": "", "kind": "voip", "day": "3/4/2026"},
        {"who": "nobody", "said": "ok", "why": "", "kind": "", "day": ""},
    ]
    found, strange = read_table(rows, AT, "AU", VerdictColumns("who", "said", "why", "kind", "day"))
    assert [(v.address, v.result, v.stage, v.line, v.at) for v in found] == [
        ("a@gull.example", VerificationResult.DEAD, Stage.MAILBOX, Line.UNSTATED, "2026-04-02T00:00:00+00:00"),
        ("+61255501234", VerificationResult.VALID, Stage.OUTSIDE, Line.MOBILE, "2026-04-02T00:00:00+00:00"),
        (
            "+61491570156",
            VerificationResult.UNKNOWN,
            Stage.OUTSIDE,
            Line.VOIP,
            AT,
        ),  # a day that could be two is not taken for either
    ]
    assert found[1].detail == "active, cell"
    assert strange == [5]


@pytest.mark.parametrize(
    ("rows", "columns", "message"),
    [
        ([], None, "no rows"),
        ([{"email": "a@b.example"}], None, "no column for the result"),
        ([{"result": "ok"}], None, "no column for the address"),
        ([{"email": "a@b.example", "result": "ok"}], VerdictColumns("mail", "result"), "no column 'mail'; there are email, result"),
    ],
)  # fmt: skip
def test_a_table_that_cannot_be_read_says_what_is_missing(
    rows: list[dict[str, str]], columns: VerdictColumns | None, message: str
) -> None:
    with pytest.raises(VerdictsError, match=message):
        read_table(rows, AT, "AU", columns)
