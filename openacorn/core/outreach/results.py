"""What can come of contacting a business, and what follows from it."""

from dataclasses import dataclass
from typing import Literal

from openacorn.errors import InvalidInput


class ResultError(InvalidInput):
    """A result that lacks something; the message says what."""

    where = "result"
    remedy = "choose otherwise; nothing was changed"


@dataclass(frozen=True, slots=True)
class ContactResult:
    """id: as it is stored and shown. stage: where the business then is on its lists, "" to leave it; outcome: what the chance of
    winning learns ("" nothing); relationship: what the business then is to us, None to leave it; step: its kind in the history."""

    id: str
    stage: str = ""
    outcome: str = ""
    relationship: str | None = None
    step: Literal["talk", "mail", "attempt"] = "talk"


RESULTS: dict[str, ContactResult] = {
    result.id: result
    for result in (
        ContactResult("no answer", step="attempt"),
        ContactResult("call back", "contacted", "contacted"),
        ContactResult("mailed", "contacted", "contacted", step="mail"),
        ContactResult("talking", "talking", "contacted", "in conversation"),
        ContactResult("proposed", "proposed", "contacted", "in conversation"),
        ContactResult("won", "won", "won", "client"),
        ContactResult("lost", "lost", "lost", ""),
        ContactResult("not interested", "lost", "lost", ""),
        ContactResult("refused", "lost", "lost", "refused"),
    )
}
"""Refused: they asked not to be contacted again. Not interested: in this, for now."""

BY_STAGE = {"contacted": "call back", "talking": "talking", "proposed": "proposed", "won": "won", "lost": "lost"}
"""Stage that a card is moved to → the result that it stands for."""


def result_of(name: str) -> ContactResult:
    """A result by its id. Raises ResultError."""
    if name not in RESULTS:
        raise ResultError(f"{name!r} is no result; choose from {', '.join(RESULTS)}")
    return RESULTS[name]
