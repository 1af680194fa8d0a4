"""How much somebody may do: of what, how near to the limit they are, and when it is said. A new kind is one member here."""

from dataclasses import dataclass
from enum import StrEnum


class Allowance(StrEnum):
    """Something that can be limited for each person."""

    REQUESTS = "requests"
    COST = "cost"
    CONTACTS = "contacts"
    EXPORTS = "exports"


WORDS = {
    Allowance.REQUESTS: ("requests to sources", "month"),
    Allowance.COST: ("spent on sources", "month"),
    Allowance.CONTACTS: ("people contacted", "day"),
    Allowance.EXPORTS: ("files taken out", "month"),
}
"""What is counted, and in which time."""

WARN_AT = 0.8


@dataclass(frozen=True, slots=True)
class AllowanceUse:
    """What somebody has used of one allowance; most None: as much as they like."""

    what: Allowance
    used: float
    most: float | None

    @property
    def state(self) -> str:
        """ "reached", "near" from WARN_AT on, or "" below it and without a limit."""
        if self.most is None:
            return ""
        if self.used >= self.most:
            return "reached"
        return "near" if self.used >= WARN_AT * self.most else ""

    def left(self) -> float | None:
        """What may still be used; None without a limit."""
        return None if self.most is None else max(0.0, self.most - self.used)

    @property
    def sentence(self) -> str:
        """How much was used, in words."""
        words, window = WORDS[self.what]
        of_most = "" if self.most is None else f" of {self.most:,.10g}"
        return (
            f"{self.used:,.10g}{of_most} {words} this {window}"
            if window == "month"
            else f"{self.used:,.10g}{of_most} {words} today"
        )
