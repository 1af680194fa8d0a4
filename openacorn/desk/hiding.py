"""What somebody sees of a business who may not see people's data: names, addresses and numbers are taken out, not the findings."""

import re
from collections.abc import Sequence
from typing import Any

from openacorn.acting import reading_as
from openacorn.business.columns import Cell
from openacorn.business.store.shortlists import hidden_lists
from openacorn.core.desk.filters import Filter, FilterError
from openacorn.db.database import Database
from openacorn.desk.schemas.businesses import BusinessResponse

HIDDEN = "(hidden)"
PERSONAL_COLUMNS = frozenset({"phone", "email"})
PERSONAL_FACTS = frozenset({"phone", "email", "person", "people", "contacts"})
EMAIL = re.compile(r"[^\s<>\"'(),;:]+(?:@|%40|\s?[\[(]at[\])]\s?)[^\s<>\"'(),;:]+", re.IGNORECASE)
NUMBER = re.compile(r"(?<![\w/])\+?\(?\d(?:[\s().\u00a0/-]{0,3}\d){6,}")
"""Seven digits or more with what is written between them; not within a word or an address."""


def check_lists(database: Database, chosen: Filter) -> None:
    """A filter by a list that the current user may not see would say who is on it. Raises FilterError."""
    pick = chosen.picks.get("shortlist")
    if pick is None or not reading_as():
        return
    with database.read() as conn:
        hidden = hidden_lists(conn).intersection((*pick.any, *pick.must, *pick.never))
    if hidden:
        raise FilterError(f"shortlist={min(hidden)}: there is no such list")


def hide_lists(groups: dict[int, dict[str, list[str]]], hidden: frozenset[str]) -> None:
    """Take lists out of what businesses belong to."""
    if hidden:
        for belongs in groups.values():
            belongs["shortlist"] = [number for number in belongs.get("shortlist", ()) if number not in hidden]


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
