"""What can come of contacting a business, and what follows from it."""

from dataclasses import dataclass
from typing import Literal


class ResultError(ValueError):
    """A result that lacks something; the message says what."""


@dataclass(frozen=True, slots=True)
class Result:
    """id: as it is stored and shown. stage: where the business then is on its lists, "" to leave it; outcome: what the chance of
    winning learns ("" nothing); standing: what the business then is to us, None to leave it; step: what it is in the history."""

    id: str
    stage: str = ""
    outcome: str = ""
    standing: str | None = None
    step: Literal["talk", "mail", "attempt"] = "talk"


RESULTS: dict[str, Result] = {
    result.id: result
    for result in (
        Result("no answer", step="attempt"),
        Result("call back", "contacted", "contacted"),
        Result("mailed", "contacted", "contacted", step="mail"),
        Result("talking", "talking", "contacted", "in conversation"),
        Result("proposed", "proposed", "contacted", "in conversation"),
        Result("won", "won", "won", "client"),
        Result("lost", "lost", "lost", ""),
        Result("not interested", "lost", "lost", ""),
        Result("refused", "lost", "lost", "refused"),
    )
}
"""Refused: they asked not to be contacted again. Not interested: in this, for now."""

BY_STAGE = {"contacted": "call back", "talking": "talking", "proposed": "proposed", "won": "won", "lost": "lost"}
"""Stage that a card is moved to → the result that it stands for."""


def result_of(name: str) -> Result:
    """A result by its id. Raises ResultError."""
    if name not in RESULTS:
        raise ResultError(f"{name!r} is no result; choose from {', '.join(RESULTS)}")
    return RESULTS[name]
