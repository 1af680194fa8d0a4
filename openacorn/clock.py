"""The time: moments as the store has them, and the user's own day (a day to come back to somebody is not Greenwich's).

Whatever asks for the time asks here, so that the demo can live through weeks in a minute: its clock is set back, and moved on.
"""

import os
from datetime import UTC, date, datetime, time, timedelta

SET_BACK = "OPEN_ACORN_CLOCK_SET_BACK_S"
"""Environment variable: seconds that this process's clock is behind; processes that it starts inherit it."""


def set_back(by: timedelta) -> None:
    """Have the clock of this process, and of those it starts from now on, run so far behind."""
    os.environ[SET_BACK] = str(by.total_seconds())


def behind() -> timedelta:
    """How far this process's clock is behind."""
    return timedelta(seconds=float(os.environ.get(SET_BACK) or 0))


def now() -> datetime:
    """This moment (UTC)."""
    return datetime.now(UTC) - behind()


def utc_now() -> str:
    """This moment (ISO 8601, UTC)."""
    return now().isoformat(timespec="seconds")


def today() -> str:
    """The day here (ISO 8601)."""
    return now().astimezone().date().isoformat()


def midnight() -> str:
    """When this day began here, as the store has moments (ISO 8601, UTC)."""
    return _beginning(now().astimezone().date())


def next_midnight() -> str:
    """When this day ends here, as the store has moments (ISO 8601, UTC)."""
    return _beginning(now().astimezone().date() + timedelta(days=1))


def _beginning(day: date) -> str:
    """By the calendar of this place, not by the offset of this moment: a day may have 23 hours or 25.

    Where clocks are changed at midnight, there may be none of that day, or two: it begins with its first moment.
    """
    found = [datetime.combine(day, time(fold=fold)).astimezone() for fold in (0, 1)]
    first = min((moment for moment in found if moment.date() == day), default=max(found))
    return first.astimezone(UTC).isoformat(timespec="seconds")
