"""The answers of JSON APIs, read by a recipe: places, and how to ask for those on the next page."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any
from urllib.parse import urljoin

import orjson

from openacorn.core.gather.api_recipe import ApiField, ApiRecipe, Asked, find
from openacorn.core.gather.recipe import RecipeError


@dataclass(frozen=True, slots=True)
class PlacesRead:
    """Rows (field → text) of one answer in order, how many places had nothing to read, the next page's cursor or address ("" at the
    end), whether there is a next page, and how many places the API says there are in all."""

    rows: tuple[Mapping[str, str], ...]
    empty: int
    next: str
    more: bool
    total: int | None


def text_at(value: Any) -> str:
    """A value as a row's text: lists joined, what holds further parts left out."""
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, int | float):
        return f"{value:.10g}" if isinstance(value, float) else str(value)
    if isinstance(value, list):
        return "; ".join(filter(None, (text_at(part) for part in value)))
    return " ".join(value.split()) if isinstance(value, str) else ""


LINK = re.compile(r"<([^>]*)>([^<]*)")


def next_link(header: str) -> str:
    """The address of the next page in a Link header (RFC 8288), "" if there is none."""
    for address, rest in LINK.findall(header):
        if re.search(r';\s*rel\s*=\s*"?(?:[^",;]*\s)?next(?:\s[^",;]*)?"?\s*(?:[;,]|$)', rest, re.I):
            return str(address)
    return ""


def _whole(value: Any) -> int | None:
    text = text_at(value)
    return int(text) if text.isdigit() else None


def _places(recipe: ApiRecipe, document: Any) -> list[Any]:
    """The places in an answer. Raises RecipeError if there is no list where they should stand."""
    if recipe.error and (said := find(recipe.error, document)):
        raise RecipeError(f"it answered with an error: {_said(said)}")
    found = find(recipe.items, document)
    if isinstance(found, Mapping):
        found = list(found.values())
    if not isinstance(found, list):
        raise RecipeError(f"there is no list at {recipe.items} in its answer: {_said(document)}")
    return found


def _said(value: Any) -> str:
    return text_at(value)[:200] if isinstance(value, str) else orjson.dumps(value).decode()[:200]


def read_places(recipe: ApiRecipe, asked: Asked, body: bytes, headers: Mapping[str, str], url: str) -> PlacesRead:
    """Read one answer. Raises RecipeError for one that holds no places, with what it says instead."""
    try:
        document = orjson.loads(body)
    except orjson.JSONDecodeError:
        start = " ".join(body[:120].decode("utf-8", "replace").split())
        kind = "a web page" if start[:1] == "<" else "something else"
        raise RecipeError(f"it sent {kind} instead of JSON: {start}") from None
    places = _places(recipe, document)
    rows = tuple(filter(None, (_row(recipe.fields, place) for place in places)))
    total = _whole(find(recipe.total, document))
    there = _next(recipe, document, headers, url)
    if recipe.more and not find(recipe.more, document):
        return PlacesRead(rows, len(places) - len(rows), "", False, total)
    if recipe.paging in {"page", "offset"}:
        left = asked.seen + len(places) < total if total is not None else len(places) >= recipe.page_size
        left = left or bool(recipe.more)
        return PlacesRead(rows, len(places) - len(rows), "", bool(places) and left, total)
    return PlacesRead(rows, len(places) - len(rows), there, bool(there) and bool(places), total)


def _next(recipe: ApiRecipe, document: Any, headers: Mapping[str, str], url: str) -> str:
    if recipe.paging == "header":
        there = next_link(headers.get("link", ""))
    elif recipe.paging in {"cursor", "link"}:
        there = text_at(find(recipe.cursor, document))
    else:
        return ""
    if there in {"", "null", "false"}:
        return ""
    return urljoin(url, there) if recipe.paging in {"link", "header"} else there


def _row(rules: Sequence[ApiField], place: Any) -> dict[str, str]:
    """Field → text of one place."""
    found = ((rule.field, text_at(find(rule.path, place))) for rule in rules)
    return {name: text for name, text in found if text}
