"""What time it is where a number rings."""

from datetime import datetime
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

import phonenumbers
from phonenumbers import timezone

from openacorn.core.geo.gazetteer import zone_at


def local_times(e164: str, now: datetime, at: tuple[float, float] | None = None) -> list[str]:
    """Hours there now ("10:24"), the earliest first. at: (latitude, longitude) of the business in degrees; now: with a time zone.

    Where the business is decides. Without its place, by the numbering plan's table of zones: one for a landline, several where
    the number's country is wide, nothing for a number that tells none.
    """
    try:
        zones = [zone_at(*at)] if at else timezone.time_zones_for_number(phonenumbers.parse(e164, None))
    except phonenumbers.NumberParseException:
        return []
    found = set()
    for zone in zones:
        try:
            there = now.astimezone(ZoneInfo(zone))
        except (ZoneInfoNotFoundError, ValueError):
            continue  # "Etc/Unknown", or a zone that this machine's tables lack
        found.add((there.replace(tzinfo=None), f"{there:%H:%M}"))
    return [text for _, text in sorted(found)]
