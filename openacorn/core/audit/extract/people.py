"""Named people with their role, out of a page's text."""

import re

from openacorn.core.audit.evidence import Found

ROLES = (
    "co-owner", "owner", "proprietor", "co-founder", "founder", "managing director", "director", "chief executive",
    "principal optometrist", "principal veterinarian", "principal", "practice manager", "general manager", "office manager",
    "workshop manager", "manager", "partner", "head florist", "head instructor", "ceo",
)  # fmt: skip
"""Roles that somebody who can decide bears, the longer before the shorter (common practice)."""

LADDER = (
    "owner",
    "proprietor",
    "founder",
    "director",
    "chief executive",
    "ceo",
    "principal",
    "partner",
    "manager",
    "head",
)
"""Who to ask for first: who owns it, then who runs it, then who has a title."""

_ROLE = "|".join(re.escape(role) for role in ROLES)
_WORD = r"[^\W\d_][\w'’.-]*"
_NAME = rf"(?:(?:Dr|Mr|Mrs|Ms)\.?[ ])?{_WORD}(?:[ ]{_WORD}){{1,2}}"  # a name never runs on over the end of a line
AFTER = re.compile(rf"({_NAME})\s*(?:,|[-–—|:(]|is (?:the|our))\s*(?:and\s|the\s|our\s)*({_ROLE})\b", re.I)
BEFORE = re.compile(rf"\b({_ROLE})\s*(?:[:–—|-]|,)?\s+({_NAME})", re.I)
TITLES = re.compile(r"^(?:Dr|Mr|Mrs|Ms)\.?\s", re.I)
MOST = 12
REACH, MOST_ROLES = 80, 60
_CUT_WORD = re.compile(r"^\S*\s")
_ANY_ROLE = re.compile(rf"\b(?:{_ROLE})\b", re.IGNORECASE)
SNIPPET = 30
STOP = frozenset(
    "our the your we and meet contact about home team call us welcome visit with from by is a an of for".split()
)


def _named(text: str) -> str:
    """The part of a match that is a person's name: words written with a capital, no sentence's beginning."""
    words = [word.strip(".,") for word in TITLES.sub("", text).split()]
    while words and (words[0].lower() in STOP or not words[0][:1].isupper()):
        words = words[1:]
    good = words and len(words) >= 2 and all(word[:1].isupper() and word.lower() not in STOP for word in words)
    return " ".join(words) if good and not any(word.isupper() and len(word) > 3 for word in words) else ""


def rank_of(role: str) -> int:
    """Place of a role on the ladder, 0 the best."""
    lowered = role.lower()
    return next((place for place, step in enumerate(LADDER) if step in lowered), len(LADDER))


def _near_roles(lines: str) -> list[str]:
    """The text around each role, what overlaps put together; whole words at either end."""
    spans: list[list[int]] = []
    for match in _ANY_ROLE.finditer(lines):
        start, end = max(0, match.start() - REACH), match.end() + REACH
        if spans and start <= spans[-1][1]:
            spans[-1][1] = end
        else:
            spans.append([start, end])
        if len(spans) > MOST_ROLES:
            break
    return [_CUT_WORD.sub("", lines[start:end], count=1) if start else lines[:end] for start, end in spans]


def find_people(lines: str) -> tuple[Found, ...]:
    """Return people with a role, the best role first, each once. `lines`: visible text, every piece of it on a line of its own."""
    found: dict[str, Found] = {}
    # names are looked for beside roles alone: a pattern that begins with a name tries every word of the page
    for near in _near_roles(lines):
        for pattern, name_at, role_at in ((AFTER, 1, 2), (BEFORE, 2, 1)):
            for match in pattern.finditer(near):
                name = _named(match.group(name_at))
                if name:
                    around = near[max(0, match.start() - SNIPPET) : match.end() + SNIPPET]
                    found.setdefault(name, Found(name, " ".join(around.split()), match.group(role_at).lower()))
    return tuple(sorted(found.values(), key=lambda person: rank_of(person.how))[:MOST])
