"""Which lists does a page hold? Repeating elements, ranked by how much they look like entries of a directory."""

import math
import re
import statistics
from collections import Counter
from dataclasses import dataclass
from functools import cached_property

from selectolax.lexbor import LexborHTMLParser, LexborNode

LEAST_ITEMS = 3
LOOKED_AT = 30
"""Items of a list that are looked at closely."""

MOST_PATH = 4
MANY = 0.5
"""More than this share of a list's entries must be of one kind for others to be taken as entries set apart."""

ITEM_TAGS = frozenset(
    ("li", "article", "div", "tr", "section", "dl", "a", "p", "td", "h2", "h3", "h4", "dt", "details", "label")
)
PASSED_OVER = frozenset(("script", "style", "noscript", "template", "svg", "option", "head", "iframe"))
FURNITURE = re.compile(
    r"\b(?:nav|navbar|navigation|menu\w*|breadcrumbs?|footer|header|pagination|pager|paging|tabs?|social|share|sharing|lang\w*|cookie\w*|toc|"
    r"modal\w*|popup|dialog|carousel|slider|toolbar|sidebar|dropdown|filters?|facets?|ads?|advert\w*|banner|login|search-?form|topbar|sitemap|tags?)\b",
    re.I,
)
"""Words in the names of what stands around a page's content (common practice)."""

OVERLAY = re.compile(r"modal|popup|dialog|flyout|lightbox", re.I)
NUMBER = re.compile(r"\+?\(?\d[\d ()./-]{6,16}\d")
MARKED = re.compile(r"(?:[$€£¥]|\b(?:EUR|USD|GBP|AUD)\b)\s?\d|\d[.,]\d\s*(?:★|/5|stars?)|\b\d{4,5}\b|@[\w-]+\.")
"""Prices, ratings, postcodes and addresses: what entries tell and menus do not."""

WRITTEN = frozenset(("text", "password", "email", "tel", "search", "number", "url"))
BARE = frozenset(("div", "td", "section", "p", "tr", "a"))
"""Elements that mean nothing by themselves: a list of them without a class is mostly a page's frame."""

NONE_HERE, LEAST_SURE = 0.62, 0.3
"""Where no list is surer than the first, there is none; beside a surer one, those down to the second are offered too."""


def _steady_classes(node: LexborNode) -> list[str]:
    classes = [name for name in (node.attributes.get("class") or "").split() if re.fullmatch(r"[A-Za-z][\w-]*", name)]
    return [name for name in classes if not re.search(r"\d|odd|even|first|last|active|current|selected", name)]


def label_of(node: LexborNode) -> str:
    """A selector step for an element: its tag and steady class names."""
    return (node.tag or "") + "".join(f".{name}" for name in _steady_classes(node)[:2])


def labels_of(node: LexborNode) -> list[str]:
    """Selector steps for an element, the narrowest first: an entry that is set apart ("card featured") is a card still."""
    return list(dict.fromkeys((label_of(node), *(f"{node.tag}.{name}" for name in _steady_classes(node)))))


def own_text(node: LexborNode) -> str:
    """The text that an element holds itself, not in elements within it."""
    return "".join(child.text() for child in node.iter(include_text=True) if child.tag == "-text").strip()


def step_of(node: LexborNode) -> str:
    """A selector step for an element that stands alone: its id, else its label."""
    name = node.attributes.get("id") or ""
    return f"#{name}" if re.fullmatch(r"[A-Za-z][\w-]*", name) else label_of(node)


def _words(text: str) -> int:
    return len(text.split()) or len(text) // 4


@dataclass(slots=True)
class _Entry:
    """An item of a list as it is judged: its text, what it is made of, and how much of it is links."""

    text: str
    labels: frozenset[str]
    linked: int
    links: int
    headed: bool
    asks: bool
    """Does it hold a box to write in, as the rows of a form do?"""


def _entry(node: LexborNode) -> _Entry:
    labels, linked, links, headed, asks = set[str](), 0, 0, False, False
    for part in node.css("*"):
        tag = part.tag or ""
        if tag in PASSED_OVER:
            continue
        labels.add(label_of(part))
        if tag == "a":
            links += 1
            linked += len(part.text())
        asks = (
            asks
            or tag in {"select", "textarea"}
            or (tag == "input" and (part.attributes.get("type") or "text") in WRITTEN)
        )
        headed = headed or tag in {"h1", "h2", "h3", "h4", "h5", "strong", "b"}
    return _Entry(" ".join(node.text(separator=" ").split()), frozenset(labels), linked, links, headed, asks)


@dataclass
class FoundList:
    """A list of a page. selector: finds its items. sure: 0…1, how likely these are the entries that a page is about."""

    selector: str
    items: list[LexborNode]
    share: float
    """The share of the page's text that is in the list."""
    furniture: bool

    @cached_property
    def entries(self) -> list[_Entry]:
        """Its items as they are judged."""
        return [_entry(item) for item in self.items[:LOOKED_AT]]

    @cached_property
    def sure(self) -> float:
        """How likely it is the list, by its features (weights set by hand on pages of others, tests/wild)."""
        entries = [entry for entry in self.entries if entry.text]
        empty = 1 - len(entries) / max(1, len(self.entries))
        if len(entries) < LEAST_ITEMS or len({entry.text for entry in entries}) < 0.6 * len(entries):
            return 0.0
        words = sorted(_words(entry.text) for entry in entries)[len(entries) // 2]
        counts = Counter(label for entry in entries for label in entry.labels)
        common = {label for label, count in counts.items() if count >= len(entries) / 2}
        alike = sum(
            len(entry.labels & common) / len(entry.labels | common) if common else 0.3 for entry in entries
        ) / len(entries)
        lengths = [len(entry.text) for entry in entries]
        uneven = statistics.pstdev(lengths) / statistics.fmean(lengths)
        asks = sum(entry.asks for entry in entries) / len(entries)
        bare = self.selector.rpartition(" > ")[2] in BARE
        parts = sum(len(entry.labels) for entry in entries) / len(entries)
        told = sum(bool(NUMBER.search(entry.text) or MARKED.search(entry.text)) for entry in entries) / len(entries)
        headed = sum(entry.headed for entry in entries) / len(entries)
        mere = sum(entry.linked >= 0.85 * len(entry.text) and entry.links <= 1 for entry in entries) / len(entries)
        menus = sum(entry.links > 2 and entry.linked >= 0.85 * len(entry.text) for entry in entries) / len(entries)
        score = (
            -2.6
            + 0.5 * math.log2(min(len(self.items), 32))
            + 1.6 * min(1.0, words / 8)
            - (1.5 if words > 150 else 0.0)
            + 3.0 * (alike - 0.5)
            - 1.5 * max(0.0, min(1.5, uneven - 0.7))
            - 2.0 * empty
            - (2.8 if told + headed < 0.2 and sum(not entry.links for entry in entries) > 0.7 * len(entries) else 0.0)
            - 1.2 * menus
            - (1.0 if bare and self.share > 0.9 else 0.0)
            - 2.5 * asks
            - (0.9 if bare else 0.0)
            + 0.9 * min(1.0, parts / 4)
            + 1.5 * told
            + 0.9 * headed
            + 2.0 * min(1.0, self.share / 0.3)
            - 2.2 * mere
            - (3.5 if self.furniture else 0.0)
        )
        return 1 / (1 + math.exp(-(score - 2.2)))


def is_furniture(node: LexborNode) -> bool:
    """Is it in what surrounds a page's content?"""
    at: LexborNode | None = node
    while at is not None and at.tag not in {"body", "html", "main", None}:
        named = f"{at.attributes.get('class') or ''} {at.attributes.get('id') or ''} {at.attributes.get('role') or ''}"
        if at.tag in {"nav", "footer", "header", "aside"} or FURNITURE.search(
            named.replace("_", " ").replace("-", " ")
        ):
            return True
        at = at.parent
    return False


def selector_of(tree: LexborHTMLParser, parent: LexborNode, label: str, count: int) -> str:
    """A selector for the children of one parent, or of its like: the shortest that finds little else."""
    path, at, best = label, parent, ""
    for _ in range(MOST_PATH):
        own = label_of(at) if re.search(r"\d{3}", at.attributes.get("id") or "") else step_of(at)
        path = f"{own} > {path}"
        found = len(tree.css(path))
        best = best or path
        if found <= 1.3 * count:
            return path
        if own.startswith("#") or at.parent is None or at.parent.tag in {"html", None}:
            break
        at = at.parent
    return path if best else ""


def _groups(parent: LexborNode) -> dict[str, list[LexborNode]]:
    """An element's children by label. Those that are set apart by a further class join the many of their kind."""
    labelled = [(child, labels_of(child)) for child in parent.iter() if child.tag in ITEM_TAGS]
    groups: dict[str, list[LexborNode]] = {}
    for child, labels in labelled:
        groups.setdefault(labels[0], []).append(child)
    for label, kind in groups.items():
        alike = [child for child, labels in labelled if label in labels]
        if len(kind) > MANY * len(alike):
            groups[label] = alike
    return groups


def find_lists(tree: LexborHTMLParser) -> list[FoundList]:
    """The lists of a page, the likeliest first; of lists within each other's items the outer one."""
    body = tree.body
    tree.strip_tags(sorted(PASSED_OVER - {"head"}))
    if body is None:
        return []
    whole = max(1, len(body.text(separator=" ")))
    found: dict[str, FoundList] = {}
    for parent in body.css("*"):
        if parent.tag in PASSED_OVER:
            continue
        for label, items in _groups(parent).items():
            if len(items) < LEAST_ITEMS:
                continue
            selector = selector_of(tree, parent, label, len(items))
            if not selector or selector in found:
                continue
            nodes = tree.css(selector)
            share = sum(len(node.text(separator=" ")) for node in nodes[:200]) / whole
            found[selector] = FoundList(
                selector, nodes, min(1.0, share), is_furniture(parent) or bool(OVERLAY.search(label))
            )
    ranked = sorted(found.values(), key=lambda each: -each.sure)
    return [each for each in ranked if each.sure > 0]
