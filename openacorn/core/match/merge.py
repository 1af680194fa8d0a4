"""One business out of its listings: for every field the value chosen, and who said it."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from openacorn.core.audit.address import AddressError, clean_url
from openacorn.core.audit.extract.phone_numbers import parse_phone
from openacorn.core.gather.listing import Listing

FIELDS = tuple(
    "name category street town postcode phone email website rating reviews claimed photos "
    "staff_band price_band hours status lat lon".split()
)


@dataclass(frozen=True, slots=True)
class Fact:
    """A field's chosen value and the listing (index into the input) that said it; `others` are values not chosen."""

    value: str | int | float | bool
    listing: int
    others: tuple[str | int | float | bool, ...] = ()


def _said(listing: Listing, region: str | None) -> tuple[int, dict[str, str | int | float | bool]]:
    """(how many fields a listing fills, field → what it says): phones as E.164 where they can be read, websites as addresses."""
    said = {field: value for field in FIELDS if (value := getattr(listing, field)) not in ("", None)}
    filled = len(said)
    if said.get("status") == "unknown":
        del said["status"]
    if phone := said.get("phone"):
        said["phone"] = parse_phone(phone, region) or phone
    if "website" in said and (website := usable_website(said.pop("website"))) is not None:
        said["website"] = website
    return filled, said


def _shouted(value: object) -> bool:
    """Names in capitals are somebody's habit, not the business's."""
    return isinstance(value, str) and len(value) > 4 and value.isupper()


def usable_website(text: str) -> str | None:
    """The listed website as a fetchable address; what is no address at all is kept as written, for the audit to say so."""
    if not text.strip():
        return None
    try:
        return clean_url(text)
    except AddressError:
        return text.strip()


def merge(listings: Sequence[Listing], region: str | None) -> dict[str, Fact]:
    """Return field → chosen fact.

    The value said most often wins; among equals the one from the fullest listing, then from the lowest source id, so
    that the choice does not depend on order. Phones are compared and kept as E.164 where they can be read.
    """
    said = [_said(listing, region) for listing in listings]
    order = sorted(range(len(listings)), key=lambda i: (-said[i][0], listings[i].source, listings[i].source_id))
    facts: dict[str, Fact] = {}
    for field in FIELDS:
        values = [(said[index][1][field], index) for index in order if field in said[index][1]]
        if not values:
            continue
        chosen = values[0]
        others: tuple[str | int | float | bool, ...] = ()
        if any(value != chosen[0] for value, _ in values):
            votes = Counter(value for value, _ in values)
            chosen = max(values, key=lambda item: (votes[item[0]], not _shouted(item[0])))
            others = tuple(value for value in votes if value != chosen[0])
        facts[field] = Fact(chosen[0], chosen[1], others)
    return facts
