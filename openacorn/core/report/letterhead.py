"""How the agency shows itself to owners: name, people, colours; and which of them can be read."""

import re
from dataclasses import dataclass

from openacorn.errors import InvalidInput

PAPER, INK = "#ffffff", "#1f211b"
READABLE = 4.5
"""Least contrast of text (WCAG 2.2, success criterion 1.4.3)."""

STEP = 0.06


class LetterheadError(InvalidInput):
    """A letterhead that cannot be used; the message says what is wrong."""

    where = "letterhead"
    remedy = "change that and try again; nothing you entered is lost"


@dataclass(frozen=True, slots=True)
class Letterhead:
    """name: the agency's; person: who signs; line: what it does, in a sentence; colour: "#rrggbb"; others "" where not given."""

    name: str
    person: str = ""
    line: str = ""
    phone: str = ""
    email: str = ""
    website: str = ""
    colour: str = "#3b6833"


def _channels(colour: str) -> tuple[float, float, float]:
    if not re.fullmatch(r"#[0-9a-fA-F]{6}", colour):
        raise LetterheadError(f"{colour!r} is no colour: write it as #rrggbb")
    return tuple(int(colour[at : at + 2], 16) / 255 for at in (1, 3, 5))  # type: ignore[return-value]


def luminance(colour: str) -> float:
    """Relative luminance of "#rrggbb", 0…1 (WCAG 2.2, "relative luminance"). Raises LetterheadError."""
    linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in _channels(colour)]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(one: str, other: str) -> float:
    """Contrast ratio of two colours, 1…21 (WCAG 2.2, "contrast ratio")."""
    high, low = sorted((luminance(one), luminance(other)), reverse=True)
    return (high + 0.05) / (low + 0.05)


def text_on(colour: str) -> str:
    """White or ink, whichever reads better on a colour."""
    return max((PAPER, INK), key=lambda text: contrast(text, colour))


def readable(colour: str) -> str:
    """The colour, darkened until text in it can be read on white."""
    red, green, blue = _channels(colour)
    found = colour
    while contrast(found, PAPER) < READABLE:
        red, green, blue = (max(0.0, part - STEP) for part in (red, green, blue))
        found = "#" + "".join(f"{round(part * 255):02x}" for part in (red, green, blue))
    return found
