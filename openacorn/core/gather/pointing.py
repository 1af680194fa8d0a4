"""A recipe made by pointing: from elements of a page that a user clicked to the selectors that take all of the same kind.

Elements are named by their number: their place among all elements of the page as parsed, from 0.
"""

import re
from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from selectolax.lexbor import LexborHTMLParser, LexborNode

from openacorn.core.gather.list_finder import (
    PASSED_OVER,
    FoundList,
    is_furniture,
    label_of,
    labels_of,
    own_text,
    selector_of,
    step_of,
)
from openacorn.core.gather.recipe import LINK, TEXT, FieldRule, Recipe, RecipeError
from openacorn.core.gather.recipe_finder import best_rules, kind_of, name_first
from openacorn.core.gather.recipe_reader import next_address


class PointedNowhere(RecipeError):
    """What was clicked does not do; the message says why."""

    where = "page"
    remedy = "click another element"


@dataclass(frozen=True, slots=True)
class Taken:
    """Numbers of the elements that a recipe takes on a page: its items, and of each field what it reads."""

    items: tuple[int, ...]
    fields: dict[str, tuple[int, ...]]
    next: tuple[int, ...]


class PointedPage:
    """A page whose elements are numbered. url: where it is."""

    def __init__(self, source: str, url: str) -> None:
        self._url = url
        self._site = url.split("/")[2] if url.count("/") > 1 else ""
        self._tree = LexborHTMLParser(source)
        self._nodes = self._tree.css("*")

    @cached_property
    def _numbers(self) -> dict[int, int]:
        return {node.mem_id: number for number, node in enumerate(self._nodes)}

    def _node(self, number: int) -> LexborNode:
        if not 0 <= number < len(self._nodes):
            raise PointedNowhere(f"the page has no element {number}")
        return self._nodes[number]

    def _numbered(self, nodes: Sequence[LexborNode]) -> tuple[int, ...]:
        return tuple(self._numbers[node.mem_id] for node in nodes if node.mem_id in self._numbers)

    def taken_by(self, plan: Recipe) -> Taken:
        """What a recipe takes on this page."""
        items = self._items(plan)
        fields: dict[str, tuple[int, ...]] = {}
        for rule in plan.fields if plan.item else ():
            firsts = [_first_of(item, rule.selector) for item in items]
            fields[rule.field] = self._numbered([node for node in firsts if node is not None])
        following = self._tree.css(plan.next)[:1] if plan.next else []
        return Taken(self._numbered(items), fields, self._numbered(following))

    def with_items(self, plan: Recipe, clicked: Sequence[int]) -> Recipe:
        """The recipe of the list that holds what was clicked: one element, or two in two of its items."""
        nodes = [self._node(number) for number in clicked[:2]]
        found = list(self._lists_holding(nodes))
        if not found:
            two = "no list holds both of them" if len(nodes) > 1 else "nothing on the page is of the same kind"
            raise PointedNowhere(two)
        best = max(found, key=lambda each: (each.sure, len(each.items)))
        return replace(
            plan, item=best.selector, fields=best_rules(best.items, self._site), structured=False, own_page=""
        )

    def _lists_holding(self, nodes: Sequence[LexborNode]) -> Iterator[FoundList]:
        for at in _ancestors(nodes[0]):
            if at.parent is None or at.parent.tag in {"html", None} or at.tag in {"body", "html"}:
                return
            for selector in self._selectors_like(at, at.parent):
                items = self._tree.css(selector)
                if len(items) > 1 and _each_in_its_own(items, nodes):
                    yield FoundList(selector, items, 1.0, furniture=False)

    def _selectors_like(self, node: LexborNode, parent: LexborNode) -> Iterator[str]:
        """Selectors that find an element and others of its kind."""
        for label in labels_of(node):
            alike = [child for child in parent.iter() if label in labels_of(child)]
            if within := selector_of(self._tree, parent, label, len(alike)):
                yield within
            if "." in label:
                yield label

    def with_field(self, plan: Recipe, clicked: int, field: str) -> Recipe:
        """The recipe that reads a field where it was clicked, in any of its items. field "": what it looks like."""
        node = self._node(clicked)
        item = _holder(node, {one.mem_id for one in self._items(plan)})
        if item is None:
            raise PointedNowhere("this is in none of the businesses that are marked")
        if field == "own_page":
            link = _link_at(node, item)
            if link is None:
                raise PointedNowhere("this is no link")
            return replace(plan, own_page=_path_within(item, link))
        rule = self._rule(item, node, field)
        others = tuple(each for each in plan.fields if each.field != rule.field)
        return replace(plan, fields=name_first((*others, rule)))

    def _items(self, plan: Recipe) -> list[LexborNode]:
        return self._tree.css(plan.item) if plan.item else []

    def _rule(self, item: LexborNode, node: LexborNode, field: str) -> FieldRule:
        selector = _path_within(item, node)
        guess = kind_of(label_of(node), node, self._site)
        if guess is not None and field in {"", guess.field}:
            return replace(guess, selector=selector)
        link = _link_at(node, item)
        if field in {"website", "email", "phone"} and link is not None:
            return FieldRule(field, _path_within(item, link), LINK)
        clean = "number" if field in {"rating", "reviews"} else ""
        return FieldRule(field or "name", selector, TEXT, clean)

    def with_detail(self, plan: Recipe, clicked: int, field: str) -> Recipe:
        """The recipe that reads a field where it was clicked on a business's own page."""
        whole, node = self._nodes[0], self._node(clicked)
        rule = self._rule(whole, node, field)
        if not rule.selector:
            raise PointedNowhere("this is the whole page")
        return replace(plan, details=(*(each for each in plan.details if each.field != rule.field), rule))

    def with_details(self, plan: Recipe) -> Recipe:
        """The recipe with the details that a business's own page seems to have."""
        found: dict[str, FieldRule] = {}
        for node in self._nodes:
            if node.tag in PASSED_OVER or not (own_text(node) or node.attributes.get("href")):
                continue
            rule = kind_of(label_of(node), node, self._site)
            if rule is not None and rule.field not in {"name", *found} and not _is_around(node):
                found[rule.field] = replace(rule, selector=_path_within(self._nodes[0], node))
        return replace(plan, details=tuple(found.values()))

    def details_taken_by(self, plan: Recipe) -> Taken:
        """What a recipe's details take on a business's own page."""
        firsts = {rule.field: self._tree.css(rule.selector)[:1] for rule in plan.details}
        return Taken((), {field: self._numbered(nodes) for field, nodes in firsts.items()}, ())

    def with_next(self, plan: Recipe, clicked: int) -> Recipe:
        """The recipe that goes on by the control that was clicked."""
        node = self._node(clicked)
        for at in _ancestors(node):
            for selector in self._ways_to(at):
                if next_address(self._tree, selector, self._url):
                    return replace(plan, next=selector)
        if plan.drawn:
            return replace(plan, next=self._alone(node))
        raise PointedNowhere(
            "this leads to no other page: scripts may load the rows; have a browser draw the page, and click it again"
        )

    def _ways_to(self, node: LexborNode) -> Iterator[str]:
        for name in ("rel", "aria-label", "title"):
            value = node.attributes.get(name) or ""
            if value and '"' not in value:
                yield f'{node.tag}[{name}="{value}"]'
        yield self._alone(node)

    def _alone(self, node: LexborNode) -> str:
        """A selector that finds this element first on the page."""
        path, at = label_of(node), node
        while (firsts := self._tree.css(path)) and firsts[0].mem_id != node.mem_id and at.parent is not None:
            at = at.parent
            path = f"{step_of(at)} > {path}"
        return path


def _ancestors(node: LexborNode) -> Iterator[LexborNode]:
    """The element and those around it, from the inside."""
    at: LexborNode | None = node
    while at is not None and at.tag is not None and at.tag[:1] not in {"-", "#", "!"}:
        yield at
        at = at.parent


def _holder(node: LexborNode, items: Collection[int]) -> LexborNode | None:
    """The innermost of some elements, by their `mem_id`, that contains an element."""
    return next((at for at in _ancestors(node) if at.mem_id in items), None)


def _each_in_its_own(items: Sequence[LexborNode], nodes: Sequence[LexborNode]) -> bool:
    known = {item.mem_id for item in items}
    holders = [holder.mem_id for node in nodes if (holder := _holder(node, known)) is not None]
    return len(holders) == len(set(holders)) == len(nodes)


def _is_around(node: LexborNode) -> bool:
    """Is it in the head, or in what surrounds a page's content?"""
    return is_furniture(node) or any(at.tag == "head" for at in _ancestors(node))


def _first_of(item: LexborNode, selector: str) -> LexborNode | None:
    return item if not selector else item.css_first(selector)


def _link_at(node: LexborNode, item: LexborNode) -> LexborNode | None:
    """The link that an element is, is inside of, or holds."""
    for at in _ancestors(node):
        if at.attributes.get("href"):
            return at
        if at.mem_id == item.mem_id:
            break
    return node.css_first("[href]")


def _path_within(item: LexborNode, node: LexborNode) -> str:
    """The shortest selector by which an element is the first one found in its item; "" for the item itself."""
    if node.mem_id == item.mem_id:
        return ""
    steps: list[str] = []
    for at in _ancestors(node):
        if at.mem_id == item.mem_id:
            break
        steps.insert(0, label_of(at))
        for path in (" > ".join(steps), " > ".join((_nth(at), *steps[1:]))):
            found = item.css_first(path)
            if found is not None and found.mem_id == node.mem_id:
                return path
        steps[0] = _nth(at)
    return " > ".join(steps)


def _nth(node: LexborNode) -> str:
    """A step that says which of its kind an element is among its parent's children."""
    before, at = 1, node.prev
    while at is not None:
        before += at.tag == node.tag
        at = at.prev
    return f"{label_of(node)}:nth-of-type({before})"


DROPPED = "script, noscript, template, iframe, frame, object, embed, base, link, meta, source, track, portal"
KEPT_ATTRIBUTES = frozenset(
    ("class", "id", "style", "alt", "colspan", "rowspan", "dir", "lang", "type", "value", "width", "height")
)
NUMBER = "data-element"
"""Attribute that holds an element's number."""

HEAD = (
    '<meta charset="utf-8"><style>html{background:#fff;color:#222;font:14px/1.45 sans-serif;padding:12px}'
    "img{min-width:24px;min-height:16px;background:#eee}*{animation:none!important;transition:none!important}"
    "</style>"
)


def inert(source: str) -> str:
    """The page to be shown in a frame: numbered, without scripts, and with nothing that loads or leads anywhere."""
    tree = LexborHTMLParser(source)
    for number, node in enumerate(tree.css("*")):
        for name in list(node.attributes):
            if name not in KEPT_ATTRIBUTES:
                del node.attrs[name]
        node.attrs[NUMBER] = str(number)
    for node in tree.css(DROPPED):
        node.decompose()
    html = tree.html or ""
    return re.sub(r"(<head[^>]*>)", lambda found: found.group(1) + HEAD, html, count=1)
