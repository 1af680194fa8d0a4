"""Reading plans: how to read listings off any paginated directory, as data that a user can see and correct."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any
from urllib.parse import quote_plus, urljoin, urlsplit

import orjson
from selectolax.lexbor import LexborHTMLParser, LexborNode

from openacorn.core.columns import HEADINGS

TEXT, LINK = "text", "link"
CLEANERS = ("", "digits", "before", "after", "number")
MAX_PAGES = 200


class PlanError(ValueError):
    """A reading plan that cannot work; the message names the field and what it may be."""


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
class ReadingPlan:
    """address: with slots {term}, {place} and {page}. item: selector of the repeating element. next: selector of the link
    to the next page, "" where {page} counts. limit: most pages of one search."""

    title: str
    address: str
    item: str
    fields: tuple[FieldRule, ...]
    next: str = ""
    limit: int = 50
    pace_s: float = 1.0
    header: str = ""
    """Name of the request header that carries the log-in secret, if the site wants one."""


@dataclass(frozen=True, slots=True)
class PageRead:
    """Rows (field → text) of one page in order, and the address of the next one ("" at the end)."""

    rows: tuple[Mapping[str, str], ...]
    next: str


def plan_of(raw: Mapping[str, Any]) -> ReadingPlan:
    """Return the checked plan out of JSON. Raises PlanError."""
    try:
        rules = tuple(FieldRule(**rule) for rule in raw.get("fields", ()))
        plan = ReadingPlan(**{**raw, "fields": rules})
    except TypeError as error:
        raise PlanError(f"this is no reading plan: {error}") from None
    return checked_plan(plan)


def checked_plan(plan: ReadingPlan) -> ReadingPlan:
    """Return the plan if it can be carried out. Raises PlanError."""
    if not plan.address.startswith(("http://", "https://")):
        raise PlanError(f"address {plan.address!r} must begin with http:// or https://")
    if not any(slot in plan.address for slot in ("{term}", "{place}")):
        raise PlanError("address: put {term} or {place} where the searched words go")
    if not plan.item.strip():
        raise PlanError("item: say which element repeats, a CSS selector")
    if not 1 <= plan.limit <= MAX_PAGES:
        raise PlanError(f"limit: 1 to {MAX_PAGES} pages")
    if not any(rule.field == "name" for rule in plan.fields):
        raise PlanError("fields: one of them must be the name")
    empty = LexborHTMLParser("<p></p>")
    for what, selector in (
        ("item", plan.item),
        ("next", plan.next),
        *((rule.field, rule.selector) for rule in plan.fields),
    ):
        try:
            empty.css(selector or "p")
        except Exception:  # the parser's own error type is not exported
            raise PlanError(f"{what}: {selector!r} is no CSS selector") from None
    for rule in plan.fields:
        if rule.field not in HEADINGS:
            raise PlanError(f"there is no field {rule.field!r}; choose from {', '.join(HEADINGS)}")
        if rule.clean not in CLEANERS:
            raise PlanError(f"{rule.field}: clean is one of {', '.join(filter(None, CLEANERS))} or nothing")
    return plan


def address_of(plan: ReadingPlan, term: str, place: str, page: int) -> str:
    """The address to ask for, slots filled."""
    filled = {"{term}": quote_plus(term), "{place}": quote_plus(place), "{page}": str(page)}
    address = plan.address
    for slot, value in filled.items():
        address = address.replace(slot, value)
    return address


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


def _taken(node: LexborNode, rule: FieldRule, url: str) -> str:
    if rule.take == TEXT:
        return node.text(separator=" ")
    if rule.take == LINK:
        href = (node.attributes.get("href") or "").strip()
        if href.startswith(("mailto:", "tel:")):
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


def next_address(tree: LexborHTMLParser, selector: str, url: str) -> str:
    """The next page's address, "" if there is none or it leaves the site."""
    for node in tree.css(selector) if selector else ():
        href = node.attributes.get("href") or node.attributes.get("data-href") or ""
        there = urljoin(url, href.strip()) if href.strip() else ""
        if there and there != url and urlsplit(there).netloc == urlsplit(url).netloc:
            return there
    return ""


def read_page(plan: ReadingPlan, source: str, url: str) -> PageRead:
    """Read one page's source by the plan."""
    tree = LexborHTMLParser(source)
    rows = tuple(read_item(item, plan.fields, url) for item in tree.css(plan.item))
    return PageRead(rows, next_address(tree, plan.next, url))


def dump(plan: ReadingPlan) -> str:
    """The plan as JSON text."""
    return orjson.dumps(asdict(plan)).decode()


def load(text: str) -> ReadingPlan:
    """A plan out of JSON text. Raises PlanError."""
    return plan_of(orjson.loads(text))
