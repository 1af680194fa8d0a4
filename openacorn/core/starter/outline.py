"""Proposes a website: its pages and sections, what each rests on, and what is to be asked of the owner. Invents nothing."""

import re
from collections.abc import Sequence
from urllib.parse import urlsplit

from openacorn.core.languages.catalogue import Translator
from openacorn.core.starter.blocks import Passage
from openacorn.core.starter.draft import Paragraph, Section, SiteFacts

MOST_SERVICES, MOST_ABOUT = 12, 8
LONGEST_TITLE = 60
NOTHING = "nothing on the old website"
_LEGAL = re.compile(
    r"privacy|datenschutz|imprint|impressum|terms|agb|cookie|legal|mentions|privacidad|privacidade|disclaimer|conditions",
    re.I,
)
_SERVICES = re.compile(
    r"service|leistung|angebot|prestation|servici|servizi|serviço|dienst|treatment|behandl|soin|tratam|price|preis|tarif|precio|prezz|"
    r"menu|speise|carte|product|produkt|produit|what we (?:do|offer)|repair|course|kurs|room|zimmer",
    re.I,
)
_ABOUT = re.compile(
    r"about|über|ueber|qui sommes|à propos|a-propos|nosotros|chi siamo|sobre|over ons|team|story|history|geschichte|histoire|"
    r"who we are|our practice|staff",
    re.I,
)
_CONTACT = re.compile(
    r"contact|kontakt|contatt|contato|find us|anfahrt|hours|öffnungszeit|horaire|horario|orari|openingstijd", re.I
)
_NEWS = re.compile(r"news|blog|aktuell|actualit|noticia|article|press|event|archive", re.I)
_PRICE = re.compile(r"(?:[$€£]\s?\d|\d\s?(?:[$€£]|EUR|AUD|USD|CHF|kr)\b)")

ASKS = {
    "services": "Which services do you offer, and what does each cost?",
    "about": "How did your business begin, and what are you proud of?",
    "people": "Who works with you, and may their names and pictures be shown?",
    "hours": "When are you open?",
    "contact": "At which address, phone number and e-mail do customers reach you?",
    "phone": "Which phone number may be shown?",
    "email": "To which e-mail address may customers write?",
    "reviews": "Which customer may be quoted, and with which words?",
}
"""What is asked of the owner where nothing is known."""

USUAL: dict[str, tuple[str, str]] = {
    "food": ("Menu", "Which dishes are on your menu, and what do they cost?"),
    "practice": ("Your first visit", "What should people bring to a first visit, and how long does it take?"),
    "workshop": ("What we repair", "Which makes and kinds do you repair, and how long does it usually take?"),
    "road": ("Where we come to", "To which towns do you travel?"),
    "shop": ("In the shop", "Which goods and makers do you carry?"),
    "studio": ("Our work", "Which pieces of your work may be shown?"),
    "boats": ("On the water", "Which boats do you look after, and where do they lie?"),
    "lodging": ("Rooms", "Which rooms do you have, and what do they cost?"),
    "classes": ("Classes", "Which classes are there, at what times, and who are they for?"),
}
"""Family of trades → the section that it usually has (common practice), and what is asked for it."""

NOTICE = (
    "This website sets no cookies and loads nothing from other companies.",
    "When you open a page, the server notes the time, the page and your address, so that the website can be kept safe.",
    "If you write or call, what you tell us is used to answer you, and for nothing else.",
    "You may ask at any time what is kept about you, and have it corrected or deleted.",
)
"""What holds for a website as it is made here; a lawyer has to look at it before it goes public."""


def _place(passage: Passage) -> str:
    """What a passage is about: by its page's address first, else by its heading."""
    path = urlsplit(passage.url).path
    for where in (path, passage.title):
        for name, pattern in (
            ("legal", _LEGAL),
            ("news", _NEWS),
            ("services", _SERVICES),
            ("about", _ABOUT),
            ("contact", _CONTACT),
        ):
            if pattern.search(where):
                return name
    return ""


def _quoted(texts: Sequence[str], url: str) -> list[Paragraph]:
    return [Paragraph(text, "website", url) for text in texts]


def _service(passage: Passage) -> list[Paragraph]:
    """A passage as services: its items, or itself under its heading."""
    if passage.items:
        titled = Paragraph(" ".join(passage.texts), "website", passage.url, passage.title)
        return [
            *([titled] if passage.texts else []),
            *(Paragraph(item, "website", passage.url) for item in passage.items),
        ]
    title = passage.title if len(passage.title) <= LONGEST_TITLE else ""
    return [Paragraph(" ".join(passage.texts), "website", passage.url, title)]


class _Outline:
    def __init__(self, facts: SiteFacts, found: Sequence[Passage], family: str, words: Translator) -> None:
        self._facts, self._family, self._words = facts, family, words
        self._by_place: dict[str, list[Passage]] = {}
        for passage in found:
            self._by_place.setdefault(_place(passage), []).append(passage)
        self._loose = self._by_place.get("", [])

    def _ask(self, what: str) -> Paragraph:
        return Paragraph(self._words.text(what), "ask")

    def welcome(self) -> Section:
        facts = self._facts
        lead = [Paragraph(facts.description, "website", facts.website)] if facts.description else []
        opening = next((p for p in self._loose if p.texts), None)
        lead = lead or (_quoted(opening.texts[:1], opening.url) if opening else [])
        place = [part for part in (facts.trade.capitalize(), facts.town) if part]
        known = [Paragraph(", ".join(place), "facts", facts.sources)] if place else []
        rests = lead[0].where if lead else facts.sources
        return Section("welcome", "home", "welcome", facts.name, (*known, *lead), rests)

    def services(self) -> Section:
        passages = self._by_place.get("services", [])
        offered = [item for passage in passages for item in _service(passage) if item.text or item.title]
        if not offered:
            offered = [
                item
                for passage in self._loose[1:]
                if passage.title and len(passage.title) <= LONGEST_TITLE
                for item in _service(passage)
            ]
        offered.sort(key=lambda item: not (item.title or _PRICE.search(item.text)))
        rests = ", ".join(dict.fromkeys(item.where for item in offered)) or NOTHING
        return Section(
            "services", "services", "services", self._words.text("Services"),
            tuple(offered[:MOST_SERVICES]) or (self._ask(ASKS["services"]),), rests,
        )  # fmt: skip

    def usual(self) -> Section | None:
        if self._family not in USUAL:
            return None
        title, question = USUAL[self._family]
        rests = "usual for the trade"
        return Section("usual", "services", "text", self._words.text(title), (self._ask(question),), rests, shown=False)

    def about(self) -> Section:
        passages = self._by_place.get("about", []) or self._loose[:2]
        told = [item for passage in passages for item in _quoted(passage.texts, passage.url)]
        rests = ", ".join(dict.fromkeys(item.where for item in told)) or NOTHING
        kept = tuple(told[:MOST_ABOUT]) or (self._ask(ASKS["about"]),)
        return Section("about", "about", "text", self._words.text("About us"), kept, rests)

    def people(self) -> Section:
        known = tuple(Paragraph(role, "facts", self._facts.sources, name) for name, role in self._facts.people)
        rests = "people named on the old website or in a register"
        return Section(
            "people",
            "about",
            "people",
            self._words.text("Who works here"),
            known or (self._ask(ASKS["people"]),),
            rests,
        )

    def reviews(self) -> Section:
        facts, said = self._facts, list[Paragraph]()
        if facts.reviews and facts.rating:
            count = self._words.count("one review", "{n} reviews", facts.reviews)
            said = [Paragraph(f"{self._words.number(facts.rating)} / 5, {count}", "facts", facts.sources)]
        return Section(
            "reviews",
            "home",
            "reviews",
            self._words.text("What customers say"),
            (*said, self._ask(ASKS["reviews"])),
            facts.sources,
            bool(said),
        )

    def hours(self) -> Section:
        known = tuple(Paragraph(line, "facts", self._facts.sources) for line in self._facts.hours)
        return Section(
            "hours",
            "contact",
            "hours",
            self._words.text("Opening hours"),
            known or (self._ask(ASKS["hours"]),),
            self._facts.sources,
        )

    def contact(self) -> Section:
        facts = self._facts
        place = (facts.street, f"{facts.postcode} {facts.town}".strip())
        known = tuple(Paragraph(line, "facts", facts.sources) for line in (*place, facts.phone, facts.email) if line)
        if known:
            known += tuple(
                self._ask(ASKS[name]) for name, value in (("phone", facts.phone), ("email", facts.email)) if not value
            )
        return Section(
            "contact",
            "contact",
            "contact",
            self._words.text("Contact"),
            known or (self._ask(ASKS["contact"]),),
            facts.sources,
        )

    def notice(self) -> Section:
        said = tuple(Paragraph(self._words.text(text), "agency") for text in NOTICE)
        return Section(
            "notice", "privacy", "notice", self._words.text("Privacy"), said, "a draft, to be checked by a lawyer"
        )


def propose(facts: SiteFacts, found: Sequence[Passage], family: str) -> tuple[Section, ...]:
    """The sections of a new website, in order. family: of the trade (themes.family_of)."""
    made = _Outline(facts, found, family, Translator(facts.language.partition("-")[0]))
    sections = (
        made.welcome(), made.services(), made.usual(), made.about(), made.people(), made.reviews(), made.hours(), made.contact(),
        made.notice(),
    )  # fmt: skip
    return tuple(section for section in sections if section is not None)
