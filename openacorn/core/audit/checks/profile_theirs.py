"""Do the linked social profiles belong to the business?"""

import re

from openacorn.core.audit.address import host_of
from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import ListingFacts, Pages
from openacorn.core.audit.finding import Evidence, Finding, gap, not_applicable, ok, unknown
from openacorn.core.audit.readable import hidden
from openacorn.core.trades.trade import normal_words

MAKERS = frozenset(
    "wix wixcom squarespace wordpress wordpressdotcom weebly shopify godaddy webflow envato elegantthemes".split()
)
"""Profiles that a theme or a builder leaves in its templates (common practice)."""

MIN_LETTERS = 4


def _letters(text: str) -> str:
    return re.sub(r"[^a-z0-9]", "", text.lower())


def _handle(address: str) -> str:
    return _letters(address.rstrip("/").rpartition("/")[2])


def is_makers(address: str) -> bool:
    """Is a profile that of a builder or a theme?"""
    return _handle(address) in MAKERS


def evaluate(pages: Pages, listing: ListingFacts) -> Finding:
    """By likeness of the profile's name to the business's or its domain's; initials and nicknames stay unknown."""
    links = {link.value: (link, page) for page in reversed(pages.all) for link in page.socials}
    if not links:
        return hidden(pages.home) or not_applicable("no social profile is linked")
    host = _letters(host_of(pages.home.url).removeprefix("www.").split(".")[0])
    tokens = {_letters(word) for word in normal_words(listing.name)} | {host}
    alien = []
    for link, page in links.values():
        handle = _handle(link.value)
        shown = Evidence(page.url, page.at, link.value)
        if is_makers(link.value):
            return gap(link.value, f"the {link.how} link leads to the site's maker, not to the business", shown)
        if not any(len(token) >= MIN_LETTERS and (token in handle or handle in host) for token in tokens):
            alien.append(shown)
    if alien:
        return unknown("a linked profile bears another name; it may still be theirs", *alien)
    return ok(sorted(links), "the linked profiles bear the business's name")


CHECK = Check(
    id="profile_theirs",
    group=Group.SOCIAL,
    title="Own social profiles",
    why="A link that leads to the maker of your template tells visitors that nobody looked.",
    needs=(Pages, ListingFacts),
    evaluate=evaluate,
    rank=60,
    owner=OwnersWords(
        topic="Social links lead to you",
        claim="A social link on your website leads to the maker of the site, not to you.",
        remedy="Point the links at your own pages.",
    ),
)
