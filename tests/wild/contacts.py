"""Numbers and addresses found on the wild pages, beside those of other readers: precision and recall.

Phones: the phone library's own matcher (PyPI phonenumbers, strict grouping). E-mails: a pattern over the text and mailto: links
(lxml). What only one side finds was looked at by hand; `contacts.json` says who is right, and counts as the truth.
"""

import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from pathlib import Path
from urllib.parse import unquote

import phonenumbers
from phonenumbers import Leniency, PhoneNumberMatcher

from openacorn.core.audit.address import host_of
from openacorn.core.audit.evidence import PageFacts
from openacorn.core.geo.region import region_of_page
from tests.wild.judging import facts_of
from tests.wild.pages import WildPage
from tests.wild.readings import MAIL, NO_MAIL, Source, XMLSyntaxError

RULINGS = Path(__file__).with_name("contacts.json")
"""Kind → "right" (found by us alone, and right), "none" (found by the other reader alone, and none): "page value"."""

LONGEST = 150_000
"""Characters of text: the library's matcher takes minutes on longer ones."""


@dataclass
class Tally:
    """right: values found that are some; wrong, missed: "page value"."""

    right: int = 0
    wrong: list[str] = field(default_factory=list)
    missed: list[str] = field(default_factory=list)

    @property
    def precision(self) -> float:
        return self.right / max(1, self.right + len(self.wrong))

    @property
    def recall(self) -> float:
        return self.right / max(1, self.right + len(self.missed))


def _phones(source: Source, facts: PageFacts, url: str) -> set[str]:
    region = region_of_page(host_of(url), facts.language, facts.written_in, None)
    found = PhoneNumberMatcher(source.visible, region, leniency=Leniency.STRICT_GROUPING, max_tries=3000)
    return {phonenumbers.format_number(match.number, phonenumbers.PhoneNumberFormat.E164) for match in found}


def _emails(source: Source) -> set[str]:
    named = (a.partition(":")[2].partition("?")[0] for a, _ in source.links if a.lower().startswith("mailto:"))
    written = (match.group(0).strip(".") for match in MAIL.finditer(source.visible))
    found = {unquote(address).strip().lower() for address in (*named, *written)}
    return {address for address in found if MAIL.fullmatch(address) and not NO_MAIL.search(address)}


def _count(tally: Tally, page: str, ours: set[str], theirs: set[str], rulings: Mapping[str, set[str]]) -> None:
    for value in ours:
        if value in theirs or f"{page} {value}" in rulings["right"]:
            tally.right += 1
        else:
            tally.wrong.append(f"{page} {value}")
    tally.missed += [f"{page} {value}" for value in theirs - ours if f"{page} {value}" not in rulings["none"]]


def tallies(pages: Iterable[WildPage]) -> dict[str, Tally]:
    """ "phones" and "emails" → what was found right, wrong and not at all."""
    raw = json.loads(RULINGS.read_text(encoding="utf-8"))
    rulings = {kind: {side: set(values) for side, values in sides.items()} for kind, sides in raw.items()}
    found = {"phones": Tally(), "emails": Tally()}
    for page in pages:
        facts, source = facts_of(page), Source(page)
        try:
            if len(source.visible) > LONGEST:
                continue
        except (XMLSyntaxError, ValueError):
            continue
        both = {"phones": ({item.value for item in facts.phones}, _phones(source, facts, page.url)),
                "emails": ({item.value for item in facts.emails}, _emails(source))}  # fmt: skip
        for kind, (ours, theirs) in both.items():
            _count(found[kind], page.name, ours, theirs, rulings[kind])
    return found
