"""How the coast's owners answer what is written to them."""

import zlib
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Manner:
    """How somebody answers. upto: share of all that answer so, or in a manner before it; {business}: name of the sender."""

    upto: float
    text: str
    automatic: bool = False


MANNERS = (
    Manner(
        0.07, "Hello,\n\nthat sounds useful. Could you call me on Thursday morning? What would it cost?\n\nBest wishes"
    ),
    Manner(0.11, "Thanks for your message. I had not noticed that. Please send me the two examples you mention."),
    Manner(
        0.14, "Guten Tag,\n\ndas klingt interessant. Bitte rufen Sie mich nächste Woche an.\n\nMit freundlichen Grüßen"
    ),
    Manner(0.18, "We are not interested, thank you."),
    Manner(0.20, "Nein danke, kein Interesse."),
    Manner(0.23, "Please take me off your list."),
    Manner(0.25, "Ne me contactez plus, s'il vous plaît."),
    Manner(0.27, "STOP"),
    Manner(0.29, "Where did you get this address? Stop writing to us at once."),
    Manner(0.36, "I am away until the end of the month. For urgent matters call the front desk.", automatic=True),
)
"""What share answers how; the rest says nothing."""


def _chance(address: str) -> float:
    """0…1, always the same for an address."""
    return zlib.crc32(address.lower().encode()) % 10_000 / 10_000


def answer_of(address: str) -> Manner | None:
    """How the owner of an address answers, None if not at all."""
    return next((manner for manner in MANNERS if _chance(address) < manner.upto), None)
