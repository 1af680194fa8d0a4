"""Is the listed site the business's own?"""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import ListingFacts, Pages
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, unknown
from openacorn.core.audit.readable import hidden
from openacorn.core.audit.streets import street_in
from openacorn.core.match.normalise import GENERIC, LEGAL
from openacorn.core.trades.catalogue import Catalogue
from openacorn.core.trades.trade import normal_words

MIN_LETTERS = 4
"""Shorter words stand on anybody's page."""


def _telling(name: str, town: str, trades: Catalogue) -> set[str]:
    """Words of a name that no other business of its trade and town has."""
    common = set(normal_words(town)) | LEGAL | GENERIC
    for trade in trades.named(name):
        for phrase in (trade.label, trade.plural, *trade.words):
            common |= set(normal_words(phrase))
    return {word for word in normal_words(name) if word not in common and len(word) >= MIN_LETTERS}


def evaluate(pages: Pages, listing: ListingFacts) -> Finding:
    """Name, phone and place on the pages against the listing: one that tells is enough; none, and another's name and
    number instead, make it somebody else's."""
    home = pages.home
    calls = {call.value: (call, page) for page in pages.all for call in page.phones}
    if listing.phone and listing.phone in calls:
        call, page = calls[listing.phone]
        return ok(
            home.site_name or listing.name, "its number stands on the pages", Evidence(page.url, page.at, call.snippet)
        )
    text = " ".join(f"{page.title} {page.content.text} {page.site_name}" for page in pages.all)
    words, telling = set(normal_words(text)), _telling(listing.name, listing.town, listing.trades)
    heads = set(
        normal_words(f"{home.title} {home.site_name} " + " ".join(text for level, text in home.headings if level == 1))
    )
    whole = set(normal_words(listing.name)) - LEGAL
    if telling and (whole <= heads or (len(telling) > 1 and telling <= words)):
        return ok(
            listing.name,
            "its name stands on the pages",
            Evidence(home.url, home.at, home.title or home.text_start[:80]),
        )
    for page in pages.all:
        if listing.street and (street := street_in(listing.street, page.content.text)):
            return ok(listing.name, "its address stands on the pages", Evidence(page.url, page.at, street))
    if concealed := hidden(home):
        return concealed
    whose = home.site_name or next((t for level, t in home.headings if level == 1 and t), "") or home.title or ""
    if telling and not telling & words and listing.phone and (calls or whose):
        other = next(iter(calls), "no number")
        shown = Evidence(home.url, home.at, f"{whose[:80]}; {other}")
        return gap(whose[:80] or home.url, f"the listed site is somebody else's: {whose[:80] or home.url}", shown)
    return unknown("the pages name neither the business nor its number", Evidence(home.url, home.at, home.title or ""))


CHECK = Check(
    id="site_ownership",
    group=Group.PRESENCE,
    title="Site ownership",
    why="A listing that leads to somebody else's site sends your customers there.",
    needs=(Pages, ListingFacts),
    evaluate=evaluate,
    rank=35,
    owner=OwnersWords(
        topic="The listed website is yours",
        claim="Your listing sends people to another business's website.",
        remedy="Correct the link in your listings, and give it a site of your own to lead to.",
    ),
)
