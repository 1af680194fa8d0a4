"""Days and moments that people and programs send: those that there are, written in one way."""

from datetime import UTC, date, datetime, timedelta, timezone

import pytest
from hypothesis import example, given
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError

from openacorn.api.schemas import Day, SomeDay
from openacorn.bulk.schemas.lines import Moment
from openacorn.outreach.schemas.pipeline import MoveRequest
from openacorn.outreach.schemas.proposals import ProposalRequest
from openacorn.outreach.schemas.results import ContactRequest
from openacorn.outreach.schemas.sending import MailboxRequest
from openacorn.outreach.schemas.texts import RegisterRequest

DAY, SOME_DAY, MOMENT = TypeAdapter(Day), TypeAdapter(SomeDay), TypeAdapter(Moment)
NONE = [
    "2026-02-30",
    "2026-13-01",
    "0000-01-01",
    "2026-00-10",
    "20261201",
    "2026-W05-2",
    "1.12.2026",
    "tomorrow",
    "２０２６-12-01",
]


@given(st.dates())
def test_every_day_is_taken_as_it_is_written(day: date) -> None:
    assert DAY.validate_python(day.isoformat()) == day.isoformat()


@pytest.mark.parametrize("text", NONE)
def test_what_is_no_day_is_refused(text: str) -> None:
    for adapter in (DAY, SOME_DAY):
        with pytest.raises(ValidationError):
            adapter.validate_python(text)
    assert DAY.validate_python("") == ""
    with pytest.raises(ValidationError):
        SOME_DAY.validate_python("")


@pytest.mark.parametrize(
    ("model", "field"),
    [
        (MailboxRequest, "warm_up_from"),
        (ProposalRequest, "valid_until"),
        (RegisterRequest, "dated"),
        (MoveRequest, "follow_up"),
        (ContactRequest, "follow_up"),
    ],
)
def test_no_field_takes_a_day_that_there_is_not(model: type, field: str) -> None:
    """A mailbox that warmed up from the 30th of February once could not be shown again."""
    with pytest.raises(ValidationError) as caught:
        model(**{field: "2026-02-30"})
    assert field in {error["loc"][0] for error in caught.value.errors()}


@given(st.datetimes(datetime(1970, 1, 2), datetime(2999, 1, 1)), st.integers(-12 * 60, 14 * 60))
@example(datetime(2026, 12, 1, 0, 0), 660)
def test_moments_are_kept_in_one_way(moment: datetime, minutes: int) -> None:
    here = moment.replace(tzinfo=timezone(timedelta(minutes=minutes)))
    kept = MOMENT.validate_python(here.isoformat())
    assert kept == here.astimezone(UTC).isoformat(timespec="seconds")
    assert MOMENT.validate_python(kept) == kept


@pytest.mark.parametrize(
    "text", ["2026-12-01T10:00:00", "2026-13-45T99:99:99+00:00", "", "2026-12-01", "now", "2026-12-01T10:00:00+99:99"]
)
def test_what_is_no_moment_is_refused(text: str) -> None:
    with pytest.raises(ValidationError):
        MOMENT.validate_python(text)
