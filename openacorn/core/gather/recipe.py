"""Recipes: how to read listings off any paginated directory, as data that a user can see and correct."""

from collections.abc import Mapping
from dataclasses import asdict, dataclass, field
from typing import Any
from urllib.parse import quote_plus

import orjson
from selectolax.lexbor import LexborHTMLParser

from openacorn.core.gather.file_columns import HEADINGS
from openacorn.errors import InvalidInput

TEXT, LINK = "text", "link"
CLEANERS = ("", "digits", "before", "after", "number")
MAX_PAGES = 200


class RecipeError(InvalidInput):
    """A recipe that cannot work; the message names the field and what it may be."""

    where = "recipe"
    remedy = "change that part of the plan"


@dataclass(frozen=True, slots=True)
class FieldRule:
    """One field: where in the item (CSS selector, "" for the item itself), what of it, and how it is cleaned.

    take: "text", "link" (an absolute address), or an attribute's name. clean: "digits" keeps digits and +, "number" the
    first number, "before"/"after" the text on that side of `mark`.
    """

    field: str
    selector: str
    take: str = TEXT
    clean: str = ""
    mark: str = ""


@dataclass(frozen=True, slots=True)
class Recipe:
    """address: with slots {term}, {place} and {page}. item: selector of the repeating element. next: selector of the link or
    button that names the next page, "" where {page} counts. limit: most pages of one search."""

    title: str
    address: str
    item: str
    fields: tuple[FieldRule, ...]
    next: str = ""
    limit: int = 50
    pace_s: float = 1.0
    header: str = ""
    """Name of the request header that carries the secret, if the site wants one."""
    form: Mapping[str, str] = field(default_factory=dict)
    """Fields of a search form that is sent to `address`, with the same slots; empty: the address alone asks."""
    more: str = ""
    """Address that brings the rows after the first page, where a button loads them: slots as above and {seen}, rows so far."""
    log_in: str = ""
    """Address of the log-in form, if the site wants one, and its fields with the slots {user} and {secret}."""
    log_in_form: Mapping[str, str] = field(default_factory=dict)
    user: str = ""
    own_page: str = ""
    """Selector of the link to an item's own page, "" if nothing is read there."""
    details: tuple[FieldRule, ...] = ()
    """Fields that are read on an item's own page."""
    structured: bool = False
    """Are the rows read from the page's structured data (JSON-LD)? A selector is then a path such as "address.postalCode"."""
    drawn: bool = False
    """Must a browser draw the page, because scripts put the rows there?"""
    results: bool = False
    """Are the rows results of a web search, of which each business is read from its own site?"""
    usual: tuple[str, ...] = ()
    """Fields that most rows had when the recipe was tried: a page where none has them has changed."""


def plan_of(raw: Mapping[str, Any], *, found: bool = True) -> Recipe:
    """Return the checked plan out of JSON. Raises RecipeError. found: False while it is being made: what repeats on its pages,
    and where the searched words go, may still be missing."""
    try:
        rules = {name: tuple(FieldRule(**rule) for rule in raw.get(name, ())) for name in ("fields", "details")}
        plan = Recipe(**{**raw, **rules, "usual": tuple(raw.get("usual", ()))})
    except TypeError as error:
        raise RecipeError(f"this is no recipe: {error}") from None
    if not found:
        _check_access(plan)
        _check_selectors(plan)
        return plan
    return checked_plan(plan)


def _check_more(plan: Recipe) -> None:
    if plan.more and not plan.more.startswith(("http://", "https://")):
        raise RecipeError(f"more: {plan.more!r} must begin with http:// or https://")
    if plan.more and not ("{page}" in plan.more or "{seen}" in plan.more):
        raise RecipeError("more: put {page} or {seen} where the address says how far one has read")
    if plan.log_in and not plan.log_in.startswith(("http://", "https://")):
        raise RecipeError(f"log_in: {plan.log_in!r} must begin with http:// or https://")
    if plan.log_in and not any("{secret}" in value for value in plan.log_in_form.values()):
        raise RecipeError("log_in_form: put {secret} into the field that takes the password")


def _check_access(plan: Recipe) -> None:
    if not plan.address.startswith(("http://", "https://")):
        raise RecipeError(f"address {plan.address!r} must begin with http:// or https://")
    _check_more(plan)


def checked_plan(plan: Recipe) -> Recipe:
    """Return the plan if it can be carried out. Raises RecipeError."""
    _check_access(plan)
    if not any(slot in text for text in (plan.address, *plan.form.values()) for slot in ("{term}", "{place}")):
        raise RecipeError("address: put {term} or {place} where the searched words go, here or in the form's fields")
    if not plan.item.strip() and not plan.structured:
        raise RecipeError("item: say which element repeats, a CSS selector")
    if not 1 <= plan.limit <= MAX_PAGES:
        raise RecipeError(f"limit: 1 to {MAX_PAGES} pages")
    if not any(rule.field == "name" for rule in plan.fields):
        raise RecipeError("fields: one of them must be the name")
    if plan.results and not any(rule.field == "website" for rule in plan.fields):
        raise RecipeError("fields: of search results one must be the website")
    if plan.details and not plan.own_page:
        raise RecipeError("own_page: say which link of an item leads to its own page")
    _check_selectors(plan)
    for rule in (*plan.fields, *plan.details):
        if rule.field not in HEADINGS:
            raise RecipeError(f"there is no field {rule.field!r}; choose from {', '.join(HEADINGS)}")
        if rule.clean not in CLEANERS:
            raise RecipeError(f"{rule.field}: clean is one of {', '.join(filter(None, CLEANERS))} or nothing")
    return plan


def _check_selectors(plan: Recipe) -> None:
    read = () if plan.structured else (("item", plan.item), *((rule.field, rule.selector) for rule in plan.fields))
    own = (("own_page", plan.own_page), *((rule.field, rule.selector) for rule in plan.details))
    empty = LexborHTMLParser("<p></p>")
    for what, selector in (*read, *own, ("next", plan.next)):
        try:
            empty.css(selector or "p")
        except Exception:  # the parser's own error type is not exported
            raise RecipeError(f"{what}: {selector!r} is no CSS selector") from None


def _filled(text: str, slots: Mapping[str, str]) -> str:
    for slot, value in slots.items():
        text = text.replace("{" + slot + "}", value)
    return text


def address_of(plan: Recipe, term: str, place: str, page: int, seen: int = 0) -> str:
    """The address to ask for, slots filled."""
    slots = {"term": quote_plus(term), "place": quote_plus(place), "page": str(page), "seen": str(seen)}
    return _filled(plan.more if plan.more and page > 1 else plan.address, slots)


def form_of(plan: Recipe, term: str, place: str, page: int) -> dict[str, str]:
    """The form's fields to send, slots filled; empty where the address alone asks, or a "more" address goes on."""
    if plan.more and page > 1:
        return {}
    slots = {"term": term, "place": place, "page": str(page)}
    return {name: _filled(value, slots) for name, value in plan.form.items()}


def log_in_of(plan: Recipe, secret: str) -> dict[str, str]:
    """The log-in form's fields to send."""
    return {name: _filled(value, {"user": plan.user, "secret": secret}) for name, value in plan.log_in_form.items()}


def dump(plan: Recipe) -> str:
    """The plan as JSON text."""
    return orjson.dumps(asdict(plan)).decode()


def load(text: str) -> Recipe:
    """A plan out of JSON text. Raises RecipeError."""
    return plan_of(orjson.loads(text))
