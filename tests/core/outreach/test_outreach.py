"""Opening lines, hours elsewhere, addresses to write to, and results."""

from datetime import UTC, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.audit.verification import VerificationResult
from openacorn.core.desk.angle import Angle, shipped_angles
from openacorn.core.match.relationship import KINDS
from openacorn.core.outreach.call_sheet import numbers_of
from openacorn.core.outreach.local_time import local_times
from openacorn.core.outreach.mailing import Letter, best_address, once_each
from openacorn.core.outreach.objections import BY_SERVICE, objections
from openacorn.core.outreach.results import BY_STAGE, RESULTS, ResultError, result_of
from openacorn.core.outreach.wording import best_angle, filled
from openacorn.core.score.reach import Channel, ChannelKind
from openacorn.core.score.service import all_services

NOW = datetime(2026, 7, 1, 0, 30, tzinfo=UTC)


@pytest.mark.parametrize(
    ("number", "times"),
    [  # the IANA database's zones in July: Sydney +10, London +1, Auckland +12, Chatham Islands +12:45
        ("+61255501234", ["10:30"]),
        ("+442079460000", ["01:30"]),
        ("+6421000000", ["12:30", "13:15"]),
        ("hello", []),
        ("+80012345678", []),
    ],
)
def test_the_hour_where_a_number_rings(number: str, times: list[str]) -> None:
    assert local_times(number, NOW) == times


def test_a_mobile_of_a_wide_country_tells_a_span() -> None:
    times = local_times("+61491570006", NOW)
    assert (times[0], times[-1]) == ("07:00", "11:00")  # the Cocos Islands to Lord Howe Island
    assert len(times) > 3
    assert local_times("+61491570006", NOW, (-31.95, 115.86)) == ["08:30"]  # of a business in Perth
    assert local_times("hello", NOW, (51.51, -0.13)) == ["01:30"]


def test_numbers_stand_once_the_likeliest_first() -> None:
    channels = [
        Channel(ChannelKind.LANDLINE, "+61355501234"), Channel(ChannelKind.MOBILE, "+61491570006"),
        Channel(ChannelKind.LANDLINE, "+61355501234"), Channel(ChannelKind.FORM, "the form"),
    ]  # fmt: skip
    assert [(n.value, n.line) for n in numbers_of(channels, NOW)] == [
        ("+61491570006", "mobile"),
        ("+61355501234", "landline"),
    ]


@pytest.mark.parametrize(
    ("line", "expected"),
    [
        ("{name} in {town}", "Kelp {town} in Port Ellery"),
        ("a {trade} {other} {0}", "a vet {other} {0}"),
        ("", ""),
    ],
)
def test_lines_are_filled_as_text(line: str, expected: str) -> None:
    assert (
        filled(line, name="Kelp {town}", town="Port Ellery", trade="Vet").replace("Kelp Port Ellery", "Kelp {town}")
        == expected
    )


def test_the_angle_to_begin_with_sells_the_service() -> None:
    wide, narrow = Angle("a", "A", "speed", "l", {"x": "1"}), Angle("b", "B", "speed", "l", {"x": "1", "y": "2"})
    other = Angle("c", "C", "video", "l", {"x": "1", "y": "2", "z": "3"})
    assert best_angle([wide, other, narrow], "speed") == narrow
    assert best_angle([other], "speed") is None
    assert all(filled(angle.line, name="n", town="t", trade="v") for angle in shipped_angles())


RESULTS_BY_ADDRESS = st.dictionaries(
    st.sampled_from(["info@kelp.example", "ada@kelp.example", "bo@kelp.example", "office@kelp.example"]),
    st.sampled_from(list(VerificationResult)),
)


@given(RESULTS_BY_ADDRESS)
def test_only_a_verified_address_is_written_to(results: dict[str, VerificationResult]) -> None:
    address, reason = best_address(results, results)
    assert bool(address) != bool(reason)
    valid = [item for item in results if results[item] is VerificationResult.VALID]
    assert (address in valid) if valid else (address == "")
    if {"ada@kelp.example", "bo@kelp.example"} & set(valid):
        assert address.split("@")[0] in {"ada", "bo"}  # a person before a shared inbox
    if results and not valid:
        assert ("dead" in reason) == all(item is VerificationResult.DEAD for item in results.values())


@given(
    st.lists(
        st.tuples(st.sampled_from(["a@x.example", "A@x.example", "b@x.example"]), st.sampled_from(["", "refused"]))
    )
)
def test_nobody_is_written_to_twice(rows: list[tuple[str, str]]) -> None:
    answer = once_each([Letter(i, f"B{i}", "", "", email, reason=reason) for i, (email, reason) in enumerate(rows)])
    written = [letter.email.lower() for letter in answer if not letter.reason]
    assert len(written) == len(set(written)) == len({email.lower() for email, reason in rows if not reason})
    assert len(answer) == len(rows)


def test_results_lead_to_stages_and_relationships_that_there_are() -> None:
    assert {result.relationship for result in RESULTS.values()} - {None, ""} <= set(KINDS)
    assert {result_of(name).stage for name in BY_STAGE.values()} == set(BY_STAGE)
    assert set(BY_SERVICE) == {service.id for service in all_services()}
    assert all(objections(service.id)[0].says for service in all_services())
    assert len(objections("own:1")) == 3
    with pytest.raises(ResultError, match="choose from no answer"):
        result_of("sold")
