"""Find the persons, or the company with its officers, in the answer of an API that is asked about one business."""

from collections.abc import Mapping, Sequence
from typing import Any

from openacorn.core.gather.api_fields import PlaceList, leaves_of, lists_in, rank_of_path
from openacorn.core.gather.api_reader import text_at
from openacorn.core.gather.api_recipe import ApiField, find
from openacorn.core.gather.recipe import RecipeError

PERSON: dict[str, tuple[str, ...]] = {
    "person": ("person", "full name", "display name", "name", "person name", "label"),
    "role": ("role", "job title", "title", "position", "function", "headline", "occupation"),
    "profile": ("profile", "profile url", "url", "link", "page", "uri"),
    "name": ("company name", "company", "organisation name", "organization name", "employer", "firm", "organisation"),
    "website": ("company domain", "domain", "company website", "website"),
    "town": ("company town", "town", "city", "locality", "location"),
    "source_id": ("id", "uid", "uuid", "key"),
}
"""Field → names under which APIs of persons give it, the plainest first (common practice)."""

COMPANY: dict[str, tuple[str, ...]] = {
    "source_id": ("number", "company number", "registration number", "id"),
    "name": ("name", "company name", "legal name", "title"),
    "town": ("town", "city", "locality"),
    "postcode": ("postcode", "postal code", "zip"),
    "incorporated": ("incorporated", "incorporation date", "founded", "date of creation", "registered on"),
    "trading_as": ("trading as", "trading name"),
}
"""The same of APIs of companies."""

OFFICERS = ("officers", "directors", "people", "management", "board", "members", "persons")
NAMED = ("name", "full_name", "fullName", "displayName")
ROLED = ("role", "title", "position", "function", "officer_role", "job")


def _chosen(found: PlaceList, names: Mapping[str, Sequence[str]]) -> dict[str, str]:
    """Field → path of what is named for it."""
    paths, chosen = list(leaves_of(found.items)), dict[str, str]()
    for field, known in names.items():
        free = [path for path in paths if path not in chosen.values()]
        if ranked := [(rank, path) for path in free if (rank := rank_of_path(path, known)) is not None]:
            chosen[field] = min(ranked)[1]
    return chosen


def _officers(found: PlaceList) -> str:
    """Path to "name, role" of a company's officers, "" where it lists none."""
    for name in OFFICERS:
        people: list[Any] = next(
            (item[name] for item in found.items if isinstance(item.get(name), list) and item[name]), []
        )
        if people and isinstance(people[0], Mapping):
            who, what = (next((key for key in keys if key in people[0]), "") for keys in (NAMED, ROLED))
            if who:
                return f"{name}[].join(', ', [{who}, {what} || ''])" if what else f"{name}[].{who}"
    return ""


def people_list(document: Any) -> tuple[PlaceList, tuple[ApiField, ...]]:
    """The list of persons, or of companies with officers, and their fields. Raises RecipeError."""
    choices = []
    for found in lists_in(document, least=1):
        if officers := _officers(found):
            choices.append((found, _chosen(found, COMPANY) | {"officers": officers}))
        elif "person" in (fields := _chosen(found, PERSON)) and {"role", "profile", "name"} & set(fields):
            choices.append((found, fields))
    if not choices:
        raise RecipeError("no persons are seen in this answer; look up a business of which the service knows somebody")
    best, fields = max(choices, key=lambda choice: len(choice[1]))
    return best, tuple(ApiField(field, path) for field, path in fields.items() if _says(best, path))


def _says(found: PlaceList, path: str) -> bool:
    return any(text_at(find(path, item)) for item in found.items)
