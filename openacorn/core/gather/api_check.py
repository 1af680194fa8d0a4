"""What a recipe of an API must hold, and the error if it does not."""

from collections.abc import Mapping
from typing import Any

import orjson
from jmespath.exceptions import JMESPathError

from openacorn.core.gather.api_recipe import FIELDS, MOST_PAGES, PAGINGS, SLOT, SLOTS, ApiField, ApiRecipe, compiled
from openacorn.core.gather.recipe import RecipeError

WHO = ("person", "officers")
"""What a look-up may say instead of a name."""


def _check_path(what: str, path: str) -> None:
    try:
        compiled(path)
    except JMESPathError as error:
        reason = str(error).splitlines()[0]
        raise RecipeError(f"{what}: {path!r} is no path (JMESPath): {reason}") from None


def _check_asking(recipe: ApiRecipe) -> None:
    if not recipe.address.startswith(("http://", "https://")):
        raise RecipeError(f"address: {recipe.address!r} must begin with http:// or https://")
    slots = set(SLOT.findall(recipe.address + recipe.body))
    if strange := slots - SLOTS:
        raise RecipeError(f"address: there is no slot {{{min(strange)}}}; choose from {', '.join(sorted(SLOTS))}")
    if recipe.paging not in PAGINGS:
        raise RecipeError(f"paging: one of {', '.join(PAGINGS)}")
    if recipe.paging in {"page", "offset"} and recipe.paging not in slots:
        raise RecipeError(f"paging: put {{{recipe.paging}}} where the address or body says how far one has read")
    if recipe.paging == "cursor" and not (recipe.cursor and recipe.cursor_name):
        raise RecipeError("paging: say where the cursor stands in the answer, and which parameter takes it")
    if recipe.paging == "link" and not recipe.cursor:
        raise RecipeError("paging: say where the next page's address stands in the answer")
    if recipe.body:
        try:
            orjson.loads(recipe.body)
        except orjson.JSONDecodeError as error:
            raise RecipeError(f"body: this is not JSON: {error}") from None
        if not isinstance(orjson.loads(recipe.body), dict):
            raise RecipeError("body: this must be a JSON object: {…}")


def checked_api(recipe: ApiRecipe) -> ApiRecipe:
    """Return the recipe if it can be carried out. Raises RecipeError naming the field."""
    _check_asking(recipe)
    if not recipe.items.strip():
        raise RecipeError("items: say where the places stand in the answer (JMESPath)")
    for what in ("items", "cursor", "total", "more", "error"):
        if path := getattr(recipe, what):
            _check_path(what, path)
    named = [rule.field for rule in recipe.fields]
    for rule in recipe.fields:
        if rule.field not in FIELDS:
            raise RecipeError(f"fields: there is no field {rule.field!r}; choose from {', '.join(FIELDS)}")
        if not rule.path.strip():
            raise RecipeError(f"fields: say where {rule.field} stands")
        _check_path(rule.field, rule.path)
    if "name" not in named and not (recipe.by == "business" and set(WHO) & set(named)):
        raise RecipeError("fields: one of them must be the name")
    if len(set(named)) < len(named):
        raise RecipeError(f"fields: {max(named, key=named.count)} stands there twice")
    if not 1 <= recipe.limit <= MOST_PAGES:
        raise RecipeError(f"limit: 1 to {MOST_PAGES} pages")
    if recipe.key_in not in {"header", "query"}:
        raise RecipeError("key_in: header or query")
    return recipe


def api_of(raw: Mapping[str, Any]) -> ApiRecipe:
    """The checked recipe out of JSON. Raises RecipeError."""
    try:
        rules = tuple(ApiField(**rule) for rule in raw.get("fields", ()))
        return checked_api(ApiRecipe(**{**raw, "fields": rules}))
    except TypeError as error:
        raise RecipeError(f"this is no recipe: {error}") from None
