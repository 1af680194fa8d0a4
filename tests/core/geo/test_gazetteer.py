"""What time it is at a spot, beside the time zone database's own table of places."""

import re
from datetime import UTC, datetime
from importlib import resources
from zoneinfo import ZoneInfo

from openacorn.core.geo.gazetteer import zone_at

WINTER, SUMMER = datetime(2026, 1, 15, tzinfo=UTC), datetime(2026, 7, 15, tzinfo=UTC)
POINT = re.compile(r"([+-])(\d\d)(\d\d)(\d\d)?([+-])(\d\d\d)(\d\d)(\d\d)?")


def degrees(sign: str, whole: str, minutes: str, seconds: str | None) -> float:
    value = int(whole) + int(minutes) / 60 + int(seconds or 0) / 3600
    return -value if sign == "-" else value


def offsets(zone: str) -> tuple[object, ...]:
    return tuple(moment.astimezone(ZoneInfo(zone)).utcoffset() for moment in (WINTER, SUMMER))


def test_the_time_is_that_of_the_time_zone_databases_places() -> None:
    """PyPI tzdata's zone.tab: a place for each of the world's zones. The others are research stations and islands without a town."""
    lines = (resources.files("tzdata") / "zoneinfo" / "zone.tab").read_text().splitlines()
    rows = [line.split("\t") for line in lines if not line.startswith("#") and not line.startswith("AQ")]
    wrong = []
    for _, point, zone, *_ in rows:
        lat_sign, *lat, lon_sign, lon, lon_minutes, lon_seconds = POINT.fullmatch(point).groups()  # type: ignore[union-attr]
        at = degrees(lat_sign, *lat), degrees(lon_sign, lon, lon_minutes, lon_seconds)
        if offsets(zone_at(*at)) != offsets(zone):
            wrong.append(zone)
    assert len(rows) > 400
    assert len(wrong) <= 0.06 * len(rows), wrong


def test_both_sides_of_the_date_line_have_their_own_day() -> None:
    assert (zone_at(-21.14, -175.2), zone_at(-13.83, -171.76)) == ("Pacific/Tongatapu", "Pacific/Apia")
