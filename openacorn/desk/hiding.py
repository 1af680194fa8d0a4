"""What somebody sees of a business who may not see people's data: names, addresses and numbers are taken out, not the findings."""

import re
from collections.abc import Sequence
from typing import Any

from openacorn.business.columns import Cell
from openacorn.desk.schemas.businesses import BusinessResponse

HIDDEN = "(hidden)"
PERSONAL_COLUMNS = frozenset({"phone", "email"})
PERSONAL_FACTS = frozenset({"phone", "email", "person", "people", "contacts"})
EMAIL = re.compile(r"[^\s<>\"'(),;:]+(?:@|%40|\s?[\[(]at[\])]\s?)[^\s<>\"'(),;:]+", re.IGNORECASE)
NUMBER = re.compile(r"(?<![\w/])\+?\(?\d(?:[\s().\u00a0/-]{0,3}\d){6,}")
"""Seven digits or more with what is written between them; not within a word or an address."""


def hide_cells(columns: Sequence[str], row: list[Cell]) -> list[Cell]:
    """A row of the table without what is personal."""
    return [None if name in PERSONAL_COLUMNS else cell for name, cell in zip(columns, row, strict=True)]


def _scrub(value: Any, names: re.Pattern[str] | None) -> Any:
    """Take e-mail addresses, phone numbers and known names out of every text in it."""
    if isinstance(value, str):
        text = NUMBER.sub(HIDDEN, EMAIL.sub(HIDDEN, value))
        return names.sub(HIDDEN, text) if names else text
    if isinstance(value, dict):
        return {key: _scrub(part, names) for key, part in value.items()}
    if isinstance(value, list):
        return [_scrub(part, names) for part in value]
    return value


def hide_people(business: BusinessResponse) -> BusinessResponse:
    """One business without people: findings, scores and peers stay, with what they say of people taken out."""
    known = sorted({person.name for person in business.people if len(person.name) > 3}, key=len, reverse=True)
    names = re.compile("|".join(map(re.escape, known)), re.IGNORECASE) if known else None
    whole = business.model_dump(mode="json")
    whole |= {
        "phone": "", "people": [], "contacts": [],
        "channels": [{**channel, "value": ""} for channel in whole["channels"]],
        "facts": [fact for fact in whole["facts"] if fact["field"] not in PERSONAL_FACTS],
        "findings": [
            {**finding, **{part: _scrub(finding[part], names) for part in ("value", "reason", "evidence")}}
            for finding in whole["findings"]
        ],
        "outcomes": _scrub(whole["outcomes"], names),
    }  # fmt: skip
    return BusinessResponse.model_validate(whole)
