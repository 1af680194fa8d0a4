"""What listings and social pages say of a business's name: the evidence of the checks on its reputation."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from openacorn.core.audit.streets import street_in
from openacorn.core.gather.listing import Listing
from openacorn.core.match.normalise import plain
from openacorn.core.trades.trade import normal_words

PROFILE = ("phone", "website", "hours", "street", "category", "photos")
"""What a listing's profile is made of (common practice)."""

_LEGAL = frozenset("pty ltd limited llc inc co company".split())


@dataclass(frozen=True, slots=True)
class Reputation:
    """The best-kept listing and what stands around it. peers 0: too few nearby; *_rank: share of peers not above, 0…1."""

    source: str
    at: str
    reviews: int | None = None
    rating: float | None = None
    claimed: bool | None = None
    photos: int | None = None
    missing: tuple[str, ...] = ()
    given: tuple[str, ...] = ()
    peers: int = 0
    reviews_rank: float | None = None
    rating_rank: float | None = None
    sources: tuple[str, ...] = ()
    differences: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class LocalRank:
    """Where one question at the town's centre puts the business. rank: 1 the first, None: not among the `of` handed out,
    though there were more."""

    source: str
    at: str
    word: str
    town: str
    rank: int | None
    of: int


@dataclass(frozen=True, slots=True)
class SocialPage:
    """The business's page on a social network, as the network tells it; last_post ISO 8601, "" where not known."""

    url: str
    at: str
    followers: int | None = None
    last_post: str = ""
    ads_running: bool | None = None


def differences(listings: Sequence[Listing]) -> tuple[str, ...]:
    """Where independent listings of one business disagree in name, street or phone, in words.

    Spelling, legal suffixes and abbreviations are no difference: search engines read over them too.
    """
    found = []
    for field, label in (("name", "name"), ("street", "street"), ("phone", "phone")):
        answer: dict[str, str] = {}
        for item in listings:
            value = str(getattr(item, field) or "")
            if value and not any(_same(field, value, other) for other in answer):
                answer[value] = item.source
        if len(answer) > 1:
            found.append(f"{label}: " + " / ".join(f"{value} ({source})" for value, source in answer.items()))
    return tuple(found)


def _same(field: str, a: str, b: str) -> bool:
    if field == "phone":
        digits = (re.sub(r"\D", "", text).lstrip("0") for text in (a, b))
        one, two = sorted(digits, key=len)
        return two.endswith(one[-8:])
    if field == "street":
        return bool(street_in(a, b) or street_in(b, a)) or not (street_in(a, a) and street_in(b, b))
    words = [frozenset(normal_words(plain(text))) - _LEGAL - {""} for text in (a, b)]
    return words[0] <= words[1] or words[1] <= words[0]
