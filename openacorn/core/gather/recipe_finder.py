"""Find a recipe in a page of results: the repeating item, its fields, the link to the next page."""

import re
from dataclasses import dataclass, field
from urllib.parse import urlsplit

from selectolax.lexbor import LexborHTMLParser, LexborNode

from openacorn.core.gather.recipe import LINK, NEXT_ATTRIBUTES, TEXT, FieldRule, Recipe, RecipeError, next_address

_PHONE = re.compile(r"(?<![\d.])\+?\(?\d[\d ()\-]{6,16}\d(?!\d)")
_STREET = re.compile(
    r"\b\d+[a-z]?\s+[\w'’]+(?:\s[\w'’]+)*\s(?:st|street|rd|road|ave|avenue|ln|lane|dr|drive|pde|parade|tce|terrace)\b",
    re.I,
)
_POSTCODE = re.compile(r"\d{4,5}|[A-Z]{1,2}\d[A-Z\d]? \d[A-Z]{2}")
MICRODATA = {
    "name": "name", "telephone": "phone", "email": "email", "url": "website", "sameAs": "website", "streetAddress": "street",
    "addressLocality": "town", "postalCode": "postcode", "ratingValue": "rating", "reviewCount": "reviews", "latitude": "lat",
    "longitude": "lon", "openingHours": "hours",
}  # fmt: skip
"""schema.org property → field (schema.org/LocalBusiness)."""

NEXT_LINKS = ("a[rel~=next]", "link[rel~=next]", "a.next", ".next a", ".pagination a[aria-label*=Next]")
NEXT_WORDS = re.compile(r"^\s*(?:next|more|older|»|›|→|next page|show more|more results)\b", re.I)
CLASS_HINTS = {
    "postcode": ("postcode", "zip"),
    "town": ("town", "locality", "suburb", "city"),
    "category": ("category", "trade", "type"),
    "reviews": ("reviews",),
    "rating": ("rating", "stars"),
}
"""Field → what the class name of its element often holds (common practice)."""

LEAST_ITEMS = 3
MOST_LEAVES = 60
SEEN_IN = 0.12
"""Share of the items that must have a field: many listings give no e-mail."""


@dataclass(slots=True)
class _Group:
    """Elements that look alike under one kind of parent."""

    selector: str
    items: list[LexborNode] = field(default_factory=list)

    def score(self) -> float:
        """Many items, each with some text and a link: what a list of businesses looks like."""
        texts = [item.text(separator=" ") for item in self.items[:30]]
        words = sum(min(len(text.split()), 40) for text in texts) / len(texts)
        linked = sum(bool(item.css_first("a[href]")) for item in self.items[:30]) / len(texts)
        numbers = sum(bool(_PHONE.search(text) or _STREET.search(text)) for text in texts) / len(texts)
        return min(len(self.items), 30) * min(words, 30) * (0.2 + linked + 2 * numbers)


def _label(node: LexborNode) -> str:
    """A selector step for an element: its tag and steady class names."""
    classes = [name for name in (node.attributes.get("class") or "").split() if re.fullmatch(r"[A-Za-z][\w-]*", name)]
    steady = [name for name in classes if not re.search(r"\d|odd|even|first|last|active", name)]
    return (node.tag or "") + "".join(f".{name}" for name in steady[:2])


def _groups(tree: LexborHTMLParser) -> list[_Group]:
    found: dict[str, _Group] = {}
    for node in tree.css("body li, body article, body div, body tr, body section, body dl"):
        parent = node.parent
        if parent is None or len(node.text().split()) < 3:
            continue
        selector = f"{_label(parent)} > {_label(node)}"
        found.setdefault(selector, _Group(selector)).items.append(node)
    return [group for group in found.values() if len(group.items) >= LEAST_ITEMS]


def _leaves(item: LexborNode) -> list[tuple[str, LexborNode]]:
    """(selector within the item, element) of elements that hold text or a link themselves."""
    found = []
    for node in item.css("*")[1 : MOST_LEAVES + 1]:
        own = "".join(child.text() for child in node.iter(include_text=True) if child.tag == "-text").strip()
        if own or node.attributes.get("href"):
            found.append((_label(node), node))
    return found


def _kind_of(selector: str, node: LexborNode, site: str) -> FieldRule | None:
    text, href = " ".join(node.text(separator=" ").split()), node.attributes.get("href") or ""
    named = selector.lower()
    if href.startswith("mailto:"):
        return FieldRule("email", selector, LINK)
    if href.startswith("tel:"):
        return FieldRule("phone", selector, LINK)
    if href.startswith("http") and urlsplit(href).netloc not in {"", site}:
        return FieldRule("website", selector, LINK)
    for fieldname, hints in CLASS_HINTS.items():
        if any(hint in named for hint in hints):
            return FieldRule(fieldname, selector, TEXT, "number" if fieldname in {"reviews", "rating"} else "")
    if _PHONE.fullmatch(re.sub(r"^[A-Za-z.: ]+", "", text)):
        return FieldRule("phone", selector)
    if _POSTCODE.fullmatch(text):
        return FieldRule("postcode", selector)
    if _STREET.search(text) or "address" in named or "street" in named:
        return FieldRule("street", selector, TEXT, "before" if "," in text else "", "," if "," in text else "")
    if re.match(r"(h[1-6]|a|strong|b)\b", named) or "name" in named or "title" in named:
        return FieldRule("name", selector)
    return None


def _microdata_plan(tree: LexborHTMLParser) -> tuple[str, tuple[FieldRule, ...]] | None:
    reachable = "[itemprop=telephone], [itemprop=address], [itemprop=streetAddress]"
    items = [
        node
        for node in tree.css("[itemscope][itemtype]")
        if node.css_first("[itemprop=name]") and node.css_first(reachable)
    ]
    if len(items) < 2:
        return None
    kinds = {node.attributes.get("itemtype") or "" for node in items}
    item = f'[itemtype="{kinds.pop()}"]' if len(kinds) == 1 else "[itemscope][itemtype]:has([itemprop=telephone])"
    rules: list[FieldRule] = []
    for prop, name in MICRODATA.items():
        node = next((found for one in items if (found := one.css_first(f"[itemprop={prop}]"))), None)
        if node is not None and name not in {rule.field for rule in rules}:
            take = LINK if node.attributes.get("href") else "content" if node.attributes.get("content") else TEXT
            rules.append(FieldRule(name, f"[itemprop={prop}]", take))
    return item, tuple(rules)


def _best_rules(group: _Group, site: str) -> tuple[FieldRule, ...]:
    """Rules that most items of the group answer to, one a field, names first."""
    votes: dict[FieldRule, int] = {}
    for item in group.items[:30]:
        seen = {rule for selector, node in _leaves(item) if (rule := _kind_of(selector, node, site))}
        for rule in seen:
            votes[rule] = votes.get(rule, 0) + 1
    chosen: dict[str, FieldRule] = {}
    for rule, count in sorted(votes.items(), key=lambda vote: -vote[1]):
        if count >= SEEN_IN * min(30, len(group.items)):
            chosen.setdefault(rule.field, rule)
    return tuple(sorted(chosen.values(), key=lambda rule: rule.field != "name"))


def find_next(tree: LexborHTMLParser, url: str) -> str:
    """A selector for the link to the next page, "" if none is seen."""
    for selector in NEXT_LINKS:
        if next_address(tree, selector, url):
            return selector
    for node in tree.css(", ".join(("a[href]", *(f"button[{name}]" for name in NEXT_ATTRIBUTES)))):
        if NEXT_WORDS.match(node.text()) and "." in _label(node):
            return _label(node)
    return ""


def _by_itself(tree: LexborHTMLParser, selector: str) -> str:
    """The item's own part of "parent > item" where that finds the same elements: rows that are loaded later have no parent."""
    alone = selector.rpartition(" > ")[2]
    return alone if "." in alone and len(tree.css(alone)) == len(tree.css(selector)) else selector


def propose(source: str, url: str, title: str, address: str) -> Recipe:
    """Find the repeating item and its fields in a page. Raises RecipeError if no list is seen."""
    tree = LexborHTMLParser(source)
    marked = _microdata_plan(tree)
    if marked is not None:
        item, rules = marked
    else:
        groups = sorted(_groups(tree), key=lambda group: -group.score())
        site = urlsplit(url).netloc
        read = [(group.selector, _best_rules(group, site)) for group in groups[:8]]
        choices = [(selector, rules) for selector, rules in read if any(rule.field == "name" for rule in rules)]
        if not choices:
            raise RecipeError("no repeating list of names is seen on this page; give the address of a page of results")
        item, rules = max(choices, key=lambda choice: len(choice[1]))
        item = _by_itself(tree, item)
    return Recipe(title, address, item, rules, find_next(tree, url))
