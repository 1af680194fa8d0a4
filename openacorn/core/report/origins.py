"""What is held about a business and where each of it came from, for its owner."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from openacorn.core.languages.catalogue import Translator
from openacorn.core.report.letterhead import Letterhead
from openacorn.core.report.render import render_page

FIELDS = {
    "name": "Name", "category": "Kind of business", "street": "Street", "town": "Town", "postcode": "Postcode", "phone": "Phone",
    "email": "E-mail address", "website": "Website", "hours": "Opening hours", "rating": "Rating", "reviews": "Number of reviews",
}  # fmt: skip
"""What is shown of the facts, in this order: what an owner calls them. Estimates about a firm are no facts from a source."""

KINDS = {"email": "E-mail address", "phone": "Phone", "social": "Social page"}
OWN_LIST = "A list of ours"
"""Instead of the name of a file that the agency brought along."""


@dataclass(frozen=True, slots=True)
class HeldFact:
    """A fact: its field, what is held, whose word it is ("" for a list of the agency's own), and when (ISO 8601)."""

    field: str
    value: str
    source: str
    at: str


@dataclass(frozen=True, slots=True)
class OriginLine:
    """A line of the page, in the owner's language. source: a name, or an address of their own website."""

    title: str
    value: str
    source: str
    day: str


def origin_lines(
    facts: Iterable[HeldFact], contacts: Iterable[tuple[str, str, str]], language: str
) -> list[OriginLine]:
    """Facts in the order of FIELDS, then what their website shows: (kind, value, page)."""
    words = Translator(language)
    by_field = {fact.field: fact for fact in facts if fact.value}
    lines = [
        OriginLine(
            words.text(title),
            by_field[field].value,
            by_field[field].source or words.text(OWN_LIST),
            words.day(by_field[field].at),
        )
        for field, title in FIELDS.items()
        if field in by_field
    ]
    known = {line.value for line in lines}
    return lines + [
        OriginLine(words.text(KINDS.get(kind, "Website")), value, page, "")
        for kind, value, page in contacts
        if value not in known
    ]


def origins_page(
    head: Letterhead, name: str, lines: Sequence[OriginLine], messages: Sequence[str], *, token: str, language: str
) -> str:
    """The page as HTML. messages: days on which somebody wrote to them, in words."""
    return render_page(
        "origins.html", "owners_page.css", head, language, name=name, lines=lines, messages=messages, token=token
    )
