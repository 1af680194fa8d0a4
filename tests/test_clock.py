"""The user's own day: it begins and ends at midnight where they are, also on the days of 23 and of 25 hours."""

import os
import time
from collections.abc import Iterator
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import HealthCheck, example, given, settings
from hypothesis import strategies as st

from openacorn import clock

ZONES = (
    "Australia/Melbourne",
    "Europe/Berlin",
    "America/New_York",
    "Asia/Kathmandu",
    "Pacific/Chatham",
    "UTC",
    "America/Santiago",
)
CHANGES = [
    ("Australia/Melbourne", date(2026, 10, 4), 23), ("Australia/Melbourne", date(2026, 4, 5), 25), ("Europe/Berlin", date(2026, 3, 29), 23),
    ("Europe/Berlin", date(2026, 10, 25), 25), ("America/New_York", date(2026, 11, 1), 25), ("Asia/Kathmandu", date(2026, 6, 1), 24),
]  # fmt: skip
"""Days on which clocks are changed (IANA time zone database), with how many hours they have."""


@pytest.fixture(autouse=True)
def zone_of_before() -> Iterator[None]:
    before = os.environ.get("TZ")
    yield
    os.environ.pop("TZ", None)
    if before is not None:
        os.environ["TZ"] = before
    time.tzset()


def at(zone: str, moment: datetime) -> None:
    """This machine is in a zone, and it is this moment."""
    os.environ["TZ"] = zone
    time.tzset()
    os.environ[clock.SET_BACK] = str((datetime.now(UTC) - moment).total_seconds())


@pytest.fixture(autouse=True)
def own_clock() -> Iterator[None]:
    yield
    os.environ.pop(clock.SET_BACK, None)


@pytest.mark.parametrize(("zone", "day", "hours"), CHANGES)
@pytest.mark.parametrize("hour", [0, 1, 4, 12, 23])
def test_a_day_on_which_clocks_are_changed(zone: str, day: date, hours: int, hour: int) -> None:
    here = ZoneInfo(zone)
    at(zone, datetime(day.year, day.month, day.day, hour, 30, tzinfo=here).astimezone(UTC))
    began, ends = datetime.fromisoformat(clock.midnight()), datetime.fromisoformat(clock.next_midnight())
    assert clock.today() == day.isoformat()
    assert began.astimezone(here).replace(tzinfo=None) == datetime(day.year, day.month, day.day)
    assert ends - began == timedelta(hours=hours)


@example("America/Santiago", datetime(2028, 9, 3, 3, 0))  # the last hour of a day after which there is no midnight
@example("America/Santiago", datetime(2028, 9, 3, 4, 0))
@settings(suppress_health_check=list(HealthCheck))
@given(st.sampled_from(ZONES), st.datetimes(datetime(2020, 1, 1), datetime(2035, 1, 1)))
def test_now_lies_within_its_day(zone: str, moment: datetime) -> None:
    at(zone, moment.replace(tzinfo=UTC))
    assert clock.midnight() <= clock.utc_now() < clock.next_midnight()
    local = datetime.fromisoformat(clock.midnight()).astimezone(ZoneInfo(zone))
    assert local.date().isoformat() == clock.today()
