"""Businesses that a page describes in structured data (JSON-LD, schema.org): as rows of a directory."""

from collections.abc import Iterator, Mapping
from typing import Any

from selectolax.lexbor import LexborHTMLParser

from openacorn.core.audit.extract.schema_types import LOCAL_BUSINESS_TYPES
from openacorn.core.audit.extract.structured import read_blocks, short_type, types_of

BUSINESSES = LOCAL_BUSINESS_TYPES | {"LocalBusiness", "Organization", "Corporation", "Place"}
PATHS = {
    "name": ("name", "legalName"),
    "street": ("address.streetAddress", "address"),
    "town": ("address.addressLocality",),
    "postcode": ("address.postalCode",),
    "phone": ("telephone", "contactPoint.telephone"),
    "email": ("email", "contactPoint.email"),
    "website": ("sameAs", "url"),
    "lat": ("geo.latitude",),
    "lon": ("geo.longitude",),
    "rating": ("aggregateRating.ratingValue",),
    "reviews": ("aggregateRating.reviewCount", "aggregateRating.ratingCount"),
    "hours": ("openingHours",),
}
"""Field → where it usually stands, best first (schema.org/LocalBusiness)."""


def _types(item: Mapping[str, Any]) -> set[str]:
    return {short_type(name) for name in types_of(item)}


def _is_row(item: Mapping[str, Any]) -> bool:
    return bool(item.get("name")) and (bool(_types(item) & BUSINESSES) or "address" in item or "telephone" in item)


def rows_of(tree: LexborHTMLParser) -> list[Mapping[str, Any]]:
    """The businesses described on a page, in its order, each once; of an `ItemList` its members and nothing around it."""
    blocks = [node.text() for node in tree.css('script[type="application/ld+json"]')]
    objects, _ = read_blocks(blocks)
    listed = [row for item in objects if "ItemList" in _types(item) for row in _members(item)]
    unique: dict[tuple[Any, ...], Mapping[str, Any]] = {}
    for item in listed or [item for item in objects if _is_row(item)]:
        unique.setdefault(
            (item.get("@id"), item.get("name"), value_at(item, "address"), value_at(item, "telephone")), item
        )
    return list(unique.values())


def _members(item: Mapping[str, Any]) -> Iterator[Mapping[str, Any]]:
    members = item.get("itemListElement")
    for member in members if isinstance(members, list) else [members]:
        inner = member.get("item", member) if isinstance(member, dict) else None
        if isinstance(inner, dict) and inner.get("name"):
            yield inner


def value_at(item: Any, path: str) -> str:
    """The text at a dotted path of an object; of a list its first member that has one; an address's parts joined."""
    name, _, rest = path.partition(".")
    if isinstance(item, list):
        return next((text for part in item if (text := value_at(part, path))), "")
    if not isinstance(item, Mapping):
        return ""
    value = item.get(name)
    if rest:
        return value_at(value, rest)
    return _text(value)


def _text(value: Any) -> str:
    if isinstance(value, list):
        return next((text for part in value if (text := _text(part))), "")
    if isinstance(value, Mapping):
        parts = (value.get(name) for name in ("streetAddress", "addressLocality", "postalCode"))
        return ", ".join(part for part in parts if isinstance(part, str) and part) or _text(value.get("@value"))
    return "" if value is None or isinstance(value, bool) else " ".join(str(value).split())


def paths_in(rows: list[Mapping[str, Any]]) -> dict[str, str]:
    """Field → the first of its usual places that any of the rows has."""
    return {
        field: path
        for field, paths in PATHS.items()
        if (path := next((path for path in paths if any(value_at(row, path) for row in rows)), ""))
    }
