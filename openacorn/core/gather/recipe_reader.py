"""Read a page of a directory by a recipe: its rows, its next page, and the details on an item's own page."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any
from urllib.parse import parse_qsl, urljoin, urlsplit

import orjson
from selectolax.lexbor import LexborHTMLParser, LexborNode

from openacorn.core.audit.address import host_of
from openacorn.core.audit.extract.emails import find_emails
from openacorn.core.gather.recipe import LINK, TEXT, FieldRule, Recipe
from openacorn.core.gather.structured_rows import rows_of, value_at


@dataclass(frozen=True, slots=True)
class PageRead:
    """Rows (field → text) of one page in order, the address of each one's own page ("" if none is read), and that of the
    next page ("" at the end)."""

    rows: tuple[Mapping[str, str], ...]
    own_pages: tuple[str, ...]
    next: str


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

VEILED = "/cdn-cgi/l/email-protection#"


def _email_in(node: LexborNode) -> str:
    """The e-mail address in an element: as a link, in plain or written out, or veiled as many sites do (the audit's reader)."""
    parts = [node, *node.css("[href], [data-cfemail]")]
    links = [part.attributes.get("href") or "" for part in parts]
    veiled = [part.attributes.get("data-cfemail") or "" for part in parts]
    veiled += [link.partition("#")[2] for link in links if VEILED in link]
    mails = [link.removeprefix("mailto:") for link in links if link.startswith("mailto:")]
    found = find_emails(node.text(separator=" "), mails, filter(None, veiled), ())
    return found[0].value if found else ""


def outward(href: str, url: str) -> str:
    """Where a link leads in the end: directories and search services often lead through an
    address of their own that names the other one."""
    there = urljoin(url, href)
    if host_of(there) != host_of(url):
        return there
    inner = [value for _, value in parse_qsl(urlsplit(there).query) if value.startswith(("http://", "https://"))]
    return next((value for value in inner if host_of(value) not in {"", host_of(url)}), there)


def _taken(node: LexborNode, rule: FieldRule, url: str) -> str:
    if rule.field == "email" and (mail := _email_in(node)):
        return mail
    if rule.take == TEXT:
        return node.text(separator=" ") or node.attributes.get("alt") or ""
    if rule.take == LINK:
        href = (node.attributes.get("href") or "").strip()
        kind = next((name for name, scheme in SCHEMES.items() if href.startswith(scheme)), "")
        if kind != (rule.field if rule.field in SCHEMES else "") and (kind or rule.field in SCHEMES):
            return ""  # an address to write to is no website, nor the other way round
        if kind:
            return href.partition(":")[2].partition("?")[0]
        there = urljoin(url, href) if href else ""
        return outward(there, url) if rule.field == "website" else there
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
        if there := _within_site(href, url):
            return there
    return ""


def _within_site(href: str, url: str) -> str:
    """The address of another page of the same site, "" if a link leads elsewhere or nowhere."""
    there = urljoin(url, href.strip())
    return there if there != url and urlsplit(there).netloc == urlsplit(url).netloc else ""


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


def _read_object(item: Mapping[str, Any], rules: Sequence[FieldRule], url: str) -> dict[str, str]:
    row = {rule.field: _cleaned(value_at(item, rule.selector), rule) for rule in rules}
    if row.get("website"):
        row["website"] = urljoin(url, row["website"])
    return {field: text for field, text in row.items() if text}


def _own_page(item: LexborNode, selector: str, url: str) -> str:
    for node in [item] if selector == "" else item.css(selector):
        if there := _within_site(node.attributes.get("href") or "", url):
            return there.partition("#")[0]
    return ""


def read_page(plan: Recipe, source: str, url: str) -> PageRead:
    """Read one page's source by the plan."""
    tree = LexborHTMLParser(unwrapped(source))
    following = next_address(tree, plan.next, url)
    if plan.structured:
        objects = rows_of(tree)
        own = tuple(_within_site(value_at(item, "url"), url) if plan.details else "" for item in objects)
        return PageRead(tuple(_read_object(item, plan.fields, url) for item in objects), own, following)
    items = tree.css(plan.item)
    own = tuple(_own_page(item, plan.own_page, url) if plan.own_page else "" for item in items)
    return PageRead(tuple(read_item(item, plan.fields, url) for item in items), own, following)


def read_details(plan: Recipe, source: str, url: str) -> dict[str, str]:
    """The fields on an item's own page."""
    body = LexborHTMLParser(source).root
    return read_item(body, plan.details, url) if body is not None else {}


USUAL_SHARE, FEWEST_ROWS = 0.6, 5
"""A field is usual if this share of the rows has it; fewer rows say nothing of what is usual."""


def usual_fields(rows: Sequence[Mapping[str, str]]) -> tuple[str, ...]:
    """The fields that most rows have."""
    fields = dict.fromkeys(field for row in rows for field in row)
    return tuple(field for field in fields if sum(field in row for row in rows) >= USUAL_SHARE * len(rows))


def gone_fields(plan: Recipe, rows: Sequence[Mapping[str, str]]) -> tuple[str, ...]:
    """Fields that most rows had when the recipe was tried and that no row of this page has: the site's layout has changed."""
    if len(rows) < FEWEST_ROWS:
        return ()
    return tuple(field for field in plan.usual if not any(field in row for row in rows))
