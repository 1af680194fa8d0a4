"""What a business is to us: client, in conversation, refused; recognised by domain, e-mail, phone or name with a place."""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass

from openacorn.core.audit.extract.phone_numbers import parse_phone
from openacorn.core.match.normalise import name_tokens, own_domain, plain
from openacorn.errors import InvalidInput

KINDS = ("client", "in conversation", "refused")
GRAVEST = {kind: place for place, kind in enumerate(("in conversation", "client", "refused"))}
"""Where a business answers to several, the one that forbids most is its relationship."""


class RelationshipError(InvalidInput):
    """An entry that nobody could be recognised by; the message says what is needed."""

    where = "relationship"
    remedy = "change that line and send it again"


@dataclass(frozen=True, slots=True)
class Identifier:
    """What somebody is recognised by. identifier_type: domain, email, phone or name; value: normalised."""

    identifier_type: str
    value: str


def _name_identifier(name: str, place: str) -> str:
    return f"{' '.join(sorted(name_tokens(name)))} @ {plain(place).strip()}"


def identifiers_of(
    region: str | None,
    *,
    name: str = "",
    places: Iterable[str] = (),
    website: str = "",
    emails: Iterable[str] = (),
    phones: Iterable[str] = (),
) -> Iterator[Identifier]:
    """Everything by which a business can be recognised. A name counts only with a place (town or postcode)."""
    domain = own_domain(website)
    if domain:
        yield Identifier("domain", domain)
    for email in emails:
        if "@" in email:
            yield Identifier("email", email.strip().lower())
    for phone in phones:
        number = parse_phone(phone, region) if phone else None
        if number:
            yield Identifier("phone", number)
    if name_tokens(name):
        for place in places:
            if place.strip():
                yield Identifier("name", _name_identifier(name, place))


def relationship_among(identifiers: Iterable[Identifier], known: Mapping[tuple[str, str], str]) -> str:
    """The gravest relationship that one of the identifiers has in `known` ((identifier_type, value) → kind), "" for none."""
    found = {
        known[(identifier.identifier_type, identifier.value)]
        for identifier in identifiers
        if (identifier.identifier_type, identifier.value) in known
    }
    return max(found, key=GRAVEST.__getitem__, default="")


def identifiers_in(text: str, region: str | None) -> tuple[list[tuple[Identifier, str]], list[str]]:
    """Read a list, a line or CSV row each: (identifiers with the line as written, lines that nobody could be recognised by).

    A cell that looks like a domain, an e-mail or a phone is one; a line of two cells that are neither is name and place.
    """
    found: list[tuple[Identifier, str]] = []
    refused = []
    for line in text.splitlines():
        cells = [
            cell.strip().strip('"') for cell in line.replace(";", ",").replace("\t", ",").split(",") if cell.strip()
        ]
        if not cells:
            continue
        identifiers = [identifier for cell in cells for identifier in _of_cell(cell, region)]
        if not identifiers and len(cells) >= 2:
            identifiers = list(identifiers_of(region, name=cells[0], places=cells[1:2]))
        found += [(identifier, line.strip()[:200]) for identifier in identifiers]
        if not identifiers:
            refused.append(line.strip()[:200])
    return found, refused


def _of_cell(cell: str, region: str | None) -> list[Identifier]:
    if "@" in cell and " " not in cell:
        return list(identifiers_of(region, emails=(cell,)))
    if sum(char.isdigit() for char in cell) >= 6:
        return list(identifiers_of(region, phones=(cell,)))
    if "." in cell and " " not in cell:
        return list(identifiers_of(region, website=cell))
    return []
