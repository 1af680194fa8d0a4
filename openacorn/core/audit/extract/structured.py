"""schema.org types in a page: JSON-LD and microdata."""

import re
from collections.abc import Iterator, Mapping
from typing import Any

import orjson
from selectolax.lexbor import LexborHTMLParser, LexborNode

from openacorn.core.audit.evidence import Found, SchemaItem

TRAILING_COMMA = re.compile(r",(\s*[}\]])")
WRAPPERS = re.compile(r"^\s*(?:/\*|//)?\s*<!(?:\[CDATA\[|--)\s*(?:\*/)?|(?:/\*|//)?\s*(?:\]\]|--)>\s*(?:\*/)?\s*$")
MAX_DEPTH = 12


def _objects(node: Any, depth: int = 0) -> Iterator[dict[str, Any]]:
    """Every object in a JSON value, the outer before the inner."""
    if depth > MAX_DEPTH:
        return
    if isinstance(node, dict):
        yield node
    for value in node.values() if isinstance(node, dict) else node if isinstance(node, list) else ():
        if isinstance(value, dict | list):
            yield from _objects(value, depth + 1)


def types_of(item: Mapping[str, Any]) -> list[str]:
    """The types that an object of JSON-LD names, as they stand there."""
    own = item.get("@type", [])
    return [name for name in (own if isinstance(own, list) else [own]) if isinstance(name, str)]


def _load(text: str) -> Any:
    """Parse JSON-LD with the forgiveness that search engines show: comment wrappers and trailing commas."""
    cleaned = WRAPPERS.sub("", text).strip()
    try:
        return orjson.loads(cleaned)
    except orjson.JSONDecodeError:
        return orjson.loads(TRAILING_COMMA.sub(r"\1", cleaned))


def short_type(name: str) -> str:
    """Return the type's name without its vocabulary's address: "https://schema.org/Optician" → "Optician"."""
    return re.split(r"[/#:]", name.strip())[-1]


def read_blocks(json_ld: list[str]) -> tuple[list[dict[str, Any]], tuple[str, ...]]:
    """Return (every object of the blocks, starts of blocks that cannot be parsed). One broken block does not hide the others."""
    objects: list[dict[str, Any]] = []
    broken: list[str] = []
    for block in json_ld:
        try:
            objects += _objects(_load(block))
        except orjson.JSONDecodeError:
            broken.append(" ".join(block.split())[:80])
    return objects, tuple(broken)


def find_types(objects: list[dict[str, Any]], item_types: list[str]) -> tuple[Found, ...]:
    """Return the types named in JSON-LD's objects and in microdata, each once a syntax."""
    found: dict[tuple[str, str], Found] = {}
    for item in objects:
        for name in types_of(item):
            short = short_type(name)
            found.setdefault((short, "JSON-LD"), Found(short, f'"@type": "{name}"', "JSON-LD"))
    for kinds in item_types:
        for name in kinds.split():
            if "schema.org" in name:
                short = short_type(name)
                found.setdefault((short, "microdata"), Found(short, f'itemtype="{name}"', "microdata"))
    return tuple(found.values())


MAX_ITEMS, MAX_PROPERTIES, MAX_CLIMB, MOST_SCOPES = 40, 200, 40, 2000
"""Bounds against pages made to be slow: what is described beyond them is not read."""


def _microdata_items(tree: LexborHTMLParser) -> Iterator[SchemaItem]:
    """Items of microdata with the properties that belong to themselves, not to an item within (HTML standard, 5.2)."""
    scopes = tree.css("[itemscope][itemtype]")
    for node in scopes[:MAX_ITEMS] if len(scopes) <= MOST_SCOPES else ():
        given = []
        for inner in node.css("[itemprop]")[:MAX_PROPERTIES]:
            if inner.mem_id != node.mem_id and _scope_of(inner) == node.mem_id:
                given += (inner.attributes.get("itemprop") or "").split()
        for name in (node.attributes.get("itemtype") or "").split():
            yield SchemaItem(short_type(name), "microdata", tuple(dict.fromkeys(given)))


def _scope_of(node: LexborNode) -> int:
    parent = node.parent
    for _ in range(MAX_CLIMB):
        if parent is None or "itemscope" in parent.attributes:
            break
        parent = parent.parent
    return 0 if parent is None else int(parent.mem_id)


def find_items(objects: list[dict[str, Any]], tree: LexborHTMLParser) -> tuple[SchemaItem, ...]:
    """Return the things described, with the names of their properties that hold something."""
    found: list[SchemaItem] = []
    for item in objects:
        given = tuple(key for key, value in item.items() if key[:1] != "@" and value not in (None, "", [], {}))
        found += [SchemaItem(short_type(name), "JSON-LD", given) for name in types_of(item)]
    return (*found, *_microdata_items(tree))[:MAX_ITEMS]
