"""What time it is where a number rings."""

from datetime import datetime
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

import phonenumbers
from phonenumbers import timezone


def local_times(e164: str, now: datetime) -> list[str]:
    """Hours there now ("10:24"), the earliest first: one for a landline, several where the number's country is wide.

    By the numbering plan's own table of zones; nothing for a number that tells none. now: with a time zone.
    """
    try:
        zones = timezone.time_zones_for_number(phonenumbers.parse(e164, None))
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
