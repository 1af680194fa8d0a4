"""Relevance rules: which of the businesses gathered are worth keeping in view. A rejected one keeps its reason."""

from collections.abc import Mapping
from dataclasses import dataclass, fields
from datetime import date, timedelta
from typing import Any

from openacorn.core.gather.bands import outside
from openacorn.core.trades.trade import normal_words
from openacorn.errors import InvalidInput

MAX_WORDS = 100


class RuleError(InvalidInput):
    """A rule that makes no sense; the message names it and says what it may be."""

    where = "rules"
    remedy = "change that rule and try again; nothing you entered is lost"


@dataclass(frozen=True, slots=True)
class Rules:
    """Empty rules keep everything. Words are compared in the singular, whatever their case; phrases as phrases."""

    category_has: tuple[str, ...] = ()
    category_never: tuple[str, ...] = ()
    name_never: tuple[str, ...] = ()
    pages_any: tuple[str, ...] = ()
    pages_all: tuple[str, ...] = ()
    pages_never: tuple[str, ...] = ()
    independent: bool = False
    reviews_from: int | None = None
    reviews_to: int | None = None
    rating_from: float | None = None
    rating_to: float | None = None
    price_from: int | None = None
    price_to: int | None = None
    staff_from: int | None = None
    staff_to: int | None = None
    revenue_from: float | None = None
    revenue_to: float | None = None
    founded_from: str = ""
    founded_to: str = ""
    new_weeks: int | None = None
    needs: tuple[str, ...] = ()
    lacks: tuple[str, ...] = ()


def reads_pages(rules: Rules) -> bool:
    """Do the rules ask what the pages mention?"""
    return bool(rules.pages_any or rules.pages_all or rules.pages_never)


ATTRIBUTES = ("phone", "website", "email", "street", "hours")
"""What `needs` and `lacks` may name."""


RANGES = ("reviews", "rating", "price", "staff", "revenue")


def _check_dates(rules: Rules) -> None:
    for name in ("founded_from", "founded_to"):
        wanted = getattr(rules, name)
        try:
            date.fromisoformat(wanted or "2000-01-01")
        except ValueError:
            raise RuleError(f"{name}: {wanted!r} is no date; write it like 2024-03-31") from None
    if rules.founded_from and rules.founded_to and rules.founded_from > rules.founded_to:
        raise RuleError(f"founded_from {rules.founded_from} is after founded_to, so nothing could pass")
    if rules.new_weeks is not None and rules.new_weeks < 1:
        raise RuleError("new_weeks: at least one week")


def rules_of(raw: Mapping[str, Any]) -> Rules:
    """Return the checked rules out of JSON. Raises RuleError."""
    known = {item.name for item in fields(Rules)}
    strange = set(raw) - known
    if strange:
        raise RuleError(f"there is no rule {sorted(strange)[0]!r}; choose from {', '.join(sorted(known))}")
    lists = {
        name: tuple(word.strip() for word in raw[name] if word.strip())
        for name in known
        if isinstance(raw.get(name), list | tuple)
    }
    rules = Rules(**{**raw, **lists})
    for name in RANGES:
        start, end = getattr(rules, f"{name}_from"), getattr(rules, f"{name}_to")
        if start is not None and end is not None and start > end:
            raise RuleError(f"{name}_from {start:g} is above {name}_to {end:g}, so nothing could pass")
    _check_dates(rules)
    for name in (*rules.needs, *rules.lacks):
        if name not in ATTRIBUTES:
            raise RuleError(f"there is no attribute {name!r}; choose from {', '.join(ATTRIBUTES)}")
    both = set(rules.needs) & set(rules.lacks)
    if both:
        raise RuleError(f"{sorted(both)[0]} is both required and excluded, so nothing could pass")
    return rules


def says(text: str, phrase: str) -> bool:
    """Does the text hold the phrase, its words in the singular, next to each other?"""
    words, wanted = normal_words(text), normal_words(phrase)
    return bool(wanted) and any(words[i : i + len(wanted)] == wanted for i in range(len(words) - len(wanted) + 1))


def _range(value: float | None, low: float | None, high: float | None, what: str) -> str:
    """Why a number is out of range; an unknown number is not out of anything."""
    if value is None:
        return ""
    if low is not None and value < low:
        return f"{what} {value:g}, under {low:g}"
    if high is not None and value > high:
        return f"{what} {value:g}, over {high:g}"
    return ""


def _words(rules: Rules, name: str, category: str, pages: str | None) -> str:
    for word in rules.category_never:
        if says(category, word):
            return f"category says “{word}”"
    if rules.category_has and category and not any(says(category, word) for word in rules.category_has):
        return f"category “{category}” says none of {', '.join(rules.category_has)}"
    for word in rules.name_never:
        if says(name, word):
            return f"name says “{word}”"
    if pages is None:
        return ""  # not read: unknown is not missing
    for word in rules.pages_never:
        if says(pages, word):
            return f"pages mention “{word}”"
    if rules.pages_any and not any(says(pages, word) for word in rules.pages_any):
        return f"pages mention none of {', '.join(rules.pages_any)}"
    missing = [word for word in rules.pages_all if not says(pages, word)]
    return f"pages do not mention “{missing[0]}”" if missing else ""


def _age(rules: Rules, founded: str, today: date) -> str:
    """Why a founding date (ISO 8601) is out of range; an unknown one is not: unknown is not missing."""
    if not founded:
        return ""
    if rules.founded_from and founded < rules.founded_from:
        return f"trading since {founded}, before {rules.founded_from}"
    if rules.founded_to and founded > rules.founded_to:
        return f"trading since {founded}, after {rules.founded_to}"
    if rules.new_weeks is not None and founded < (today - timedelta(weeks=rules.new_weeks)).isoformat():
        return f"trading since {founded}, not new within {rules.new_weeks} weeks"
    return ""


def _bands(rules: Rules, facts: Mapping[str, Any]) -> str:
    for name, what in (("staff", "staff"), ("revenue", "revenue")):
        band = str(facts.get(f"{name}_band") or "")
        if outside(band, getattr(rules, f"{name}_from"), getattr(rules, f"{name}_to")):
            return f"{what} {band}, out of range"
    return ""


def rejected_by(rules: Rules, facts: Mapping[str, Any], *, chain: bool, today: date, pages: str | None = None) -> str:
    """Why the rules reject a business, "" if they do not.

    `facts`: name, category, reviews, rating, price_band, staff_band, revenue_band, founded (ISO 8601) and ATTRIBUTES, missing
    or "" where unknown. `pages`: the text of its pages, None where they were not read.
    """
    reason = _words(rules, str(facts.get("name") or ""), str(facts.get("category") or ""), pages)
    if reason:
        return reason
    if rules.independent and chain:
        return "part of a chain"
    for what, field_name, low, high in (
        ("reviews", "reviews", rules.reviews_from, rules.reviews_to),
        ("rating", "rating", rules.rating_from, rules.rating_to),
        ("price band", "price_band", rules.price_from, rules.price_to),
    ):
        if reason := _range(facts.get(field_name), low, high, what):
            return reason
    if reason := _bands(rules, facts) or _age(rules, str(facts.get("founded") or ""), today):
        return reason
    for name in rules.needs:
        if not facts.get(name):
            return f"no {name} is listed"
    for name in rules.lacks:
        if facts.get(name):
            return f"a {name} is listed"
    return ""
