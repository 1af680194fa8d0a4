"""Bands as sources write them: "2-4", "20+", "under 250k", "1m–5m"."""

import math
import re

_NUMBER = re.compile(r"(\d[\d,]*(?:\.\d+)?)\s*([km])?\b", re.IGNORECASE)
_TIMES = {"": 1, "k": 1_000, "m": 1_000_000}
_OPEN_TOP = ("+", "over", "more", "from", "at least")
_OPEN_BOTTOM = ("<", "under", "less", "up to", "below")


def band(text: str) -> tuple[float, float] | None:
    """(least, most) of a band, most inf where it is open; None if it holds no number."""
    found = [float(number.replace(",", "")) * _TIMES[unit.lower()] for number, unit in _NUMBER.findall(text)]
    lowered = text.lower()
    if not found:
        return None
    if len(found) > 1:
        return min(found[:2]), max(found[:2])
    if any(word in lowered for word in _OPEN_TOP):
        return found[0], math.inf
    if any(word in lowered for word in _OPEN_BOTTOM):
        return 0.0, found[0]
    return found[0], found[0]


def outside(text: str, low: float | None, high: float | None) -> bool:
    """Does a band lie wholly outside low … high? A band that cannot be read, or that reaches in, does not."""
    found = band(text)
    if found is None:
        return False
    return (low is not None and found[1] < low) or (high is not None and found[0] > high)
