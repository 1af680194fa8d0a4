"""Find a recipe in a page of results: the repeating item, its fields, the link to the next page."""

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from urllib.parse import urlsplit

from selectolax.lexbor import LexborHTMLParser, LexborNode

from openacorn.core.gather.list_finder import LEAST_SURE, NONE_HERE, find_lists, label_of, own_text, step_of
from openacorn.core.gather.recipe import LINK, TEXT, FieldRule, Recipe, RecipeError
from openacorn.core.gather.recipe_reader import NEXT_ATTRIBUTES, VEILED, next_address, outward
from openacorn.core.gather.structured_rows import paths_in, rows_of

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

MOST_LEAVES = 60
SEEN_IN = 0.12
"""Share of the items that must have a field: many listings give no e-mail."""


def _leaves(item: LexborNode) -> list[tuple[str, LexborNode]]:
    """(selector within the item, element) of elements that hold text or a link themselves."""
    nodes = item.css("*")[1 : MOST_LEAVES + 1]
    return [(label_of(node), node) for node in nodes if own_text(node) or node.attributes.get("href")]


def kind_of(selector: str, node: LexborNode, site: str) -> FieldRule | None:
    """The rule for the field that an element looks like, None if it looks like none. site: host of the page."""
    text, href = " ".join(node.text(separator=" ").split()), node.attributes.get("href") or ""
    named = selector.lower()
    if href.startswith("mailto:") or VEILED in href or "data-cfemail" in node.attributes:
        return FieldRule("email", selector, LINK)
    if href.startswith("tel:"):
        return FieldRule("phone", selector, LINK)
    there = outward(href, f"http://{site}/") if href[:1] not in {"", "#"} else ""
    if there.startswith("http") and urlsplit(there).netloc not in {"", site}:
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


MICROFORMATS = {
    ".h-card": {
        "name": ".p-name, .p-org", "phone": ".p-tel", "email": ".u-email", "website": ".u-url", "street": ".p-street-address",
        "town": ".p-locality", "postcode": ".p-postal-code", "lat": ".p-latitude", "lon": ".p-longitude",
    },
    ".vcard": {
        "name": ".fn, .org", "phone": ".tel", "email": ".email", "website": "a.url", "street": ".street-address",
        "town": ".locality", "postcode": ".postal-code", "lat": ".latitude", "lon": ".longitude",
    },
}  # fmt: skip
"""Item → field → selector: h-card and hCard (microformats.org, from memory), which directory software often writes."""


def _microformat_plan(tree: LexborHTMLParser) -> tuple[str, tuple[FieldRule, ...]] | None:
    for item, selectors in MICROFORMATS.items():
        cards = tree.css(item)
        reachable = [
            card for card in cards if card.css_first(selectors["phone"]) or card.css_first(selectors["street"])
        ]
        if len(reachable) < 2 or len(reachable) < len(cards) / 2:
            continue
        rules = [
            FieldRule(field, selector, LINK if field in {"email", "website"} else TEXT)
            for field, selector in selectors.items()
            if any(card.css_first(selector) for card in cards)
        ]
        if any(rule.field == "name" for rule in rules):
            return item, tuple(rules)
    return None


def best_rules(items: Sequence[LexborNode], site: str) -> tuple[FieldRule, ...]:
    """Rules that most items answer to, one a field, names first."""
    votes: dict[FieldRule, int] = {}
    for item in items[:30]:
        seen = {rule for selector, node in _leaves(item) if (rule := kind_of(selector, node, site))}
        for rule in seen:
            votes[rule] = votes.get(rule, 0) + 1
    chosen: dict[str, FieldRule] = {}
    for rule, count in sorted(votes.items(), key=lambda vote: -vote[1]):
        if count >= SEEN_IN * min(30, len(items)):
            chosen.setdefault(rule.field, rule)
    if "name" not in chosen and "website" in chosen:  # a result of a search is called by its link
        chosen["name"] = FieldRule("name", chosen["website"].selector)
    return name_first(chosen.values())


def name_first(rules: Iterable[FieldRule]) -> tuple[FieldRule, ...]:
    """Rules in the order that people read rows in."""
    return tuple(sorted(rules, key=lambda rule: rule.field != "name"))


def find_next(tree: LexborHTMLParser, url: str) -> str:
    """A selector for the link to the next page, "" if none is seen."""
    for selector in NEXT_LINKS:
        if next_address(tree, selector, url):
            return selector
    for node in tree.css(", ".join(("a[href]", *(f"button[{name}]" for name in NEXT_ATTRIBUTES)))):
        if NEXT_WORDS.match(node.text()) or NEXT_WORDS.match(node.attributes.get("aria-label") or ""):
            selector = step_of(node)
            if ("." in selector or "#" in selector) and next_address(tree, selector, url):
                return selector
    return ""


def _by_itself(tree: LexborHTMLParser, selector: str) -> str:
    """The item's own part of "parent > item" where that finds the same elements: rows that are loaded later have no parent."""
    alone = selector.rpartition(" > ")[2]
    return alone if "." in alone and len(tree.css(alone)) == len(tree.css(selector)) else selector


class NoList(RecipeError):
    """A page holds no list that looks like entries of a directory."""

    where = "address"
    remedy = "give the address of a page of results"


@dataclass(frozen=True, slots=True)
class Proposal:
    """A list that a page holds, as a recipe. sure: 0…1, how likely it is the one that the page is about."""

    recipe: Recipe
    sure: float
    items: int


MARKED_SURE = 1.0
"""How sure a list is that the page itself marks as businesses (microdata, microformats, JSON-LD)."""

PROPOSED, LEAST_DESCRIBED = 5, 2


def proposals(source: str, url: str, title: str, address: str) -> list[Proposal]:
    """The lists of a page as recipes, the likeliest first; empty if none is seen."""
    tree = LexborHTMLParser(source)
    site, following = urlsplit(url).netloc, find_next(tree, url)
    found: list[Proposal] = []
    for marked in filter(None, (_microdata_plan(tree), _microformat_plan(tree))):
        item, rules = marked
        found.append(Proposal(Recipe(title, address, item, rules, following), MARKED_SURE, len(tree.css(item))))
    described = rows_of(tree)
    paths = paths_in(described)
    if len(described) >= LEAST_DESCRIBED and len(paths) > max((len(one.recipe.fields) for one in found), default=1):
        rules = tuple(FieldRule(field, path) for field, path in paths.items())
        found.insert(
            0, Proposal(Recipe(title, address, "", rules, following, structured=True), MARKED_SURE, len(described))
        )
    for each in find_lists(LexborHTMLParser(source)):
        rules = best_rules(each.items, site)
        if each.sure < (LEAST_SURE if found else NONE_HERE) or len(found) == PROPOSED:
            break
        if any(rule.field == "name" for rule in rules):
            recipe = Recipe(title, address, _by_itself(tree, each.selector), rules, following)
            found.append(Proposal(recipe, each.sure, len(each.items)))
    return sorted(found, key=lambda proposal: -proposal.sure)


def propose(source: str, url: str, title: str, address: str) -> Recipe:
    """The likeliest list of a page as a recipe. Raises NoList."""
    found = proposals(source, url, title, address)
    if not found:
        raise NoList("no repeating list of names is seen on this page")
    return found[0].recipe
