"""When somebody may be written to or called: working days and hours where they are, without public holidays."""

from collections.abc import Collection
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from functools import lru_cache
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from openacorn.errors import InvalidInput

LOOK_AHEAD = 60
"""Days after which it is given up to find a working day; no country has so many holidays in a row."""


class HoursError(InvalidInput):
    """Hours that cannot be kept; the message says why."""

    where = "hours"
    remedy = "choose at least one day, and a closing time after the opening time"


@dataclass(frozen=True, slots=True)
class Hours:
    """opens, closes: minutes after midnight; days: weekdays, Monday is 0; on_holidays: also on public holidays?"""

    opens: int = 9 * 60
    closes: int = 17 * 60
    days: tuple[int, ...] = (0, 1, 2, 3, 4)
    on_holidays: bool = False

    def __post_init__(self) -> None:
        if not 0 <= self.opens < self.closes <= 24 * 60:
            raise HoursError("the closing time must come after the opening time")
        if not self.days or not set(self.days) <= set(range(7)):
            raise HoursError("no day is chosen")


@lru_cache(maxsize=512)
def holidays_of(country: str, year: int) -> Collection[date]:
    """Public holidays of a whole country (ISO 3166-1 alpha-2); none where they are not known."""
    import holidays  # hundreds of calendars: loaded when first asked

    try:
        return frozenset(holidays.country_holidays(country, years=year)) if country else frozenset()
    except NotImplementedError:
        return frozenset()


@lru_cache(maxsize=512)
def zone_of(name: str) -> ZoneInfo:
    """A time zone; UTC for a name that this machine does not know."""
    try:
        return ZoneInfo(name or "UTC")
    except (ZoneInfoNotFoundError, ValueError):
        return ZoneInfo("UTC")


def _moment(day: date, minutes: int, zone: ZoneInfo) -> datetime:
    """A local time of a day as UTC; one that a change of clocks leaves out is read with the offset from before it."""
    there = datetime.combine(day + timedelta(days=minutes // 1440), time(minutes // 60 % 24, minutes % 60), zone)
    return there.astimezone(UTC)


def is_working_day(day: date, hours: Hours, country: str) -> bool:
    """Is it one of the chosen weekdays, and no public holiday there?"""
    return day.weekday() in hours.days and (hours.on_holidays or day not in holidays_of(country, day.year))


@lru_cache(maxsize=4096)
def _span(day: date, zone: str, country: str, hours: Hours) -> tuple[datetime, datetime] | None:
    """Opening and closing (UTC) of a local day, None if it is none to work on."""
    if not is_working_day(day, hours, country):
        return None
    there = zone_of(zone)
    return _moment(day, hours.opens, there), _moment(day, hours.closes, there)


def next_open(moment: datetime, zone: str, country: str, hours: Hours) -> tuple[datetime, datetime]:
    """The first moment from `moment` (UTC) on that lies within hours, and when they close again (both UTC).

    zone: IANA; country: ISO 3166-1 alpha-2, "" if it is not known. Raises HoursError if there is none for LOOK_AHEAD days.
    """
    day = moment.astimezone(zone_of(zone)).date()
    for ahead in range(LOOK_AHEAD):
        span = _span(day + timedelta(days=ahead), zone, country, hours)
        if span is not None and moment < span[1]:
            return max(moment, span[0]), span[1]
    raise HoursError(f"there is no working day in {country or zone} within {LOOK_AHEAD} days")


def add_working_days(moment: datetime, count: int, zone: str, country: str, hours: Hours) -> datetime:
    """The same local time so many days of work later; with no days to wait, the moment itself."""
    there = zone_of(zone)
    local = moment.astimezone(there)
    day, left, ahead = local.date(), count, 0
    while left and ahead < LOOK_AHEAD * (count + 1):
        day, ahead = day + timedelta(days=1), ahead + 1
        left -= is_working_day(day, hours, country)
    return datetime.combine(day, local.time(), there).astimezone(UTC)
