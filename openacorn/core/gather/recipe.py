"""Recipes: how to read listings off any paginated directory, as data that a user can see and correct."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, field
from typing import Any
from urllib.parse import quote_plus, urljoin, urlsplit

import orjson
from selectolax.lexbor import LexborHTMLParser, LexborNode

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


@dataclass(frozen=True, slots=True)
class PageRead:
    """Rows (field → text) of one page in order, and the address of the next one ("" at the end)."""

    rows: tuple[Mapping[str, str], ...]
    next: str


def plan_of(raw: Mapping[str, Any], *, found: bool = True) -> Recipe:
    """Return the checked plan out of JSON; `found` False: what repeats on its pages is still to be found. Raises RecipeError."""
    try:
        rules = tuple(FieldRule(**rule) for rule in raw.get("fields", ()))
        plan = Recipe(**{**raw, "fields": rules})
    except TypeError as error:
        raise RecipeError(f"this is no recipe: {error}") from None
    if not found:
        _check_access(plan)
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
    if not any(slot in text for text in (plan.address, *plan.form.values()) for slot in ("{term}", "{place}")):
        raise RecipeError("address: put {term} or {place} where the searched words go, here or in the form's fields")
    _check_more(plan)


def checked_plan(plan: Recipe) -> Recipe:
    """Return the plan if it can be carried out. Raises RecipeError."""
    _check_access(plan)
    if not plan.item.strip():
        raise RecipeError("item: say which element repeats, a CSS selector")
    if not 1 <= plan.limit <= MAX_PAGES:
        raise RecipeError(f"limit: 1 to {MAX_PAGES} pages")
    if not any(rule.field == "name" for rule in plan.fields):
        raise RecipeError("fields: one of them must be the name")
    empty = LexborHTMLParser("<p></p>")
    for what, selector in (
        ("item", plan.item),
        ("next", plan.next),
        *((rule.field, rule.selector) for rule in plan.fields),
    ):
        try:
            empty.css(selector or "p")
        except Exception:  # the parser's own error type is not exported
            raise RecipeError(f"{what}: {selector!r} is no CSS selector") from None
    for rule in plan.fields:
        if rule.field not in HEADINGS:
            raise RecipeError(f"there is no field {rule.field!r}; choose from {', '.join(HEADINGS)}")
        if rule.clean not in CLEANERS:
            raise RecipeError(f"{rule.field}: clean is one of {', '.join(filter(None, CLEANERS))} or nothing")
    return plan


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


def _cleaned(text: str, rule: FieldRule) -> str:
    text = " ".join(text.split())
    if rule.clean == "digits":
        return re.sub(r"[^\d+]", "", text)
    if rule.clean == "number":
        found = re.search(r"\d[\d,]*(?:\.\d+)?", text)
        return found.group().replace(",", "") if found else ""
    if rule.mark and rule.clean == "before":
        return text.partition(rule.mark)[0].strip()
    if rule.mark and rule.clean == "after":
        return text.partition(rule.mark)[2].strip()
    return text


SCHEMES = {"email": "mailto:", "phone": "tel:"}
"""Field → how the address of a link begins that gives it."""


def _taken(node: LexborNode, rule: FieldRule, url: str) -> str:
    if rule.take == TEXT:
        return node.text(separator=" ")
    if rule.take == LINK:
        href = (node.attributes.get("href") or "").strip()
        kind = next((name for name, scheme in SCHEMES.items() if href.startswith(scheme)), "")
        if kind != (rule.field if rule.field in SCHEMES else "") and (kind or rule.field in SCHEMES):
            return ""  # an address to write to is no website, nor the other way round
        if kind:
            return href.partition(":")[2].partition("?")[0]
        return urljoin(url, href) if href else ""
    return node.attributes.get(rule.take) or ""


def read_item(item: LexborNode, rules: Sequence[FieldRule], url: str) -> dict[str, str]:
    """The fields of one item; the first element that gives a text wins."""
    row: dict[str, str] = {}
    for rule in rules:
        nodes = [item] if not rule.selector else item.css(rule.selector)
        value = next((text for node in nodes if (text := _cleaned(_taken(node, rule, url), rule))), "")
        if value:
            row[rule.field] = value
    return row


NEXT_ATTRIBUTES = ("href", "data-href", "data-more", "data-url", "data-next", "hx-get", "formaction")
"""Where links and "more" buttons say what they load (common practice)."""


def next_address(tree: LexborHTMLParser, selector: str, url: str) -> str:
    """The next page's address, "" if there is none or it leaves the site."""
    for node in tree.css(selector) if selector else ():
        href = next(filter(None, (node.attributes.get(name) for name in NEXT_ATTRIBUTES)), "") or ""
        there = urljoin(url, href.strip()) if href.strip() else ""
        if there and there != url and urlsplit(there).netloc == urlsplit(url).netloc:
            return there
    return ""


def unwrapped(source: str) -> str:
    """The markup in an answer: what "more" buttons load is often JSON with the rows' markup as one of its texts."""
    if source.lstrip()[:1] not in {"{", "["}:
        return source
    try:
        value = orjson.loads(source)
    except orjson.JSONDecodeError:
        return source
    texts: list[str] = []

    def visit(item: Any) -> None:
        if isinstance(item, str) and "<" in item:
            texts.append(item)
        for part in item.values() if isinstance(item, Mapping) else item if isinstance(item, list) else ():
            visit(part)

    visit(value)
    return "\n".join(texts)


def read_page(plan: Recipe, source: str, url: str) -> PageRead:
    """Read one page's source by the plan."""
    tree = LexborHTMLParser(unwrapped(source))
    rows = tuple(read_item(item, plan.fields, url) for item in tree.css(plan.item))
    return PageRead(rows, next_address(tree, plan.next, url))


def dump(plan: Recipe) -> str:
    """The plan as JSON text."""
    return orjson.dumps(asdict(plan)).decode()


def load(text: str) -> Recipe:
    """A plan out of JSON text. Raises RecipeError."""
    return plan_of(orjson.loads(text))
