"""Recipes to begin with: WordPress's on real pages, and each JSON one on the answer that its software's documentation prints."""

import json
from pathlib import Path
from typing import Any

import pytest
from selectolax.lexbor import LexborHTMLParser

from openacorn.core.gather.api_reader import read_places
from openacorn.core.gather.api_recipe import ApiRecipe, Asked, call_of
from openacorn.core.gather.recipe import Recipe
from openacorn.core.gather.recipe_reader import read_page
from openacorn.core.geo.tiles import Tile
from openacorn.gather.starters import all_starters
from tests.running import new_application
from tests.wild.pages import wild_pages

STARTERS = {starter.recipe.title: starter.recipe for starter in all_starters()}
HERE = Tile(-37.1, 160.0, -36.9, 160.2)

# shortened from the documentation of each software, from memory; the firms are invented
ANSWERS: dict[str, tuple[Any, dict[str, str], bool]] = {
    "Open data portal (CKAN)": (
        {"success": True, "result": {"total": 230, "limit": 100, "records": [{"_id": 1, "name": "Gull Vets", "city": "Port Ellery"}]}},
        {"source_id": "1", "name": "Gull Vets", "town": "Port Ellery"}, True,
    ),
    "Map service (OGC API – Features)": (
        {"type": "FeatureCollection", "numberMatched": 3, "numberReturned": 1,
         "links": [{"rel": "self", "href": "https://maps.example/a"}, {"rel": "next", "href": "https://maps.example/collections/x/items?offset=1"}],
         "features": [{"type": "Feature", "id": "f.1", "geometry": {"type": "Point", "coordinates": [160.1, -37.0]}, "properties": {"name": "Gull Vets"}}]},
        {"source_id": "f.1", "name": "Gull Vets", "lon": "160.1", "lat": "-37"}, True,
    ),
    "Place search (Nominatim)": (
        [{"osm_id": 7, "lat": "-37.0", "lon": "160.1", "type": "veterinary", "name": "Gull Vets",
          "address": {"house_number": "14", "road": "Mill Lane", "town": "Port Ellery", "postcode": "7801"},
          "extratags": {"contact:phone": "+61 3 5550 1234"}}],
        {"name": "Gull Vets", "street": "14 Mill Lane", "town": "Port Ellery", "postcode": "7801", "phone": "+61 3 5550 1234"}, False,
    ),
    "Place search (Photon)": (
        {"type": "FeatureCollection", "features": [{"geometry": {"coordinates": [160.1, -37.0], "type": "Point"}, "type": "Feature",
         "properties": {"osm_id": 7, "osm_value": "veterinary", "name": "Gull Vets", "housenumber": "14", "street": "Mill Lane", "city": "Port Ellery"}}]},
        {"name": "Gull Vets", "street": "14 Mill Lane", "town": "Port Ellery", "category": "veterinary"}, False,
    ),
    "Search index (Solr)": (
        {"responseHeader": {"status": 0}, "response": {"numFound": 1, "start": 0, "docs": [{"id": "a", "name": ["Gull Vets"], "phone": "(03) 5550 1234"}]}},
        {"source_id": "a", "name": "Gull Vets", "phone": "(03) 5550 1234"}, False,
    ),
}  # fmt: skip


@pytest.mark.parametrize("title", ANSWERS)
def test_a_json_starter_reads_what_its_software_answers(title: str) -> None:
    recipe = STARTERS[title]
    assert isinstance(recipe, ApiRecipe)
    answer, fields, more = ANSWERS[title]
    asked = Asked("vets", "Port Ellery", HERE)
    read = read_places(recipe, asked, json.dumps(answer).encode(), {}, recipe.address)
    (row,) = read.rows
    assert {name: row.get(name) for name in fields} == fields
    assert read.more is more
    assert "{" not in call_of(recipe, asked, "").url


def test_every_starter_is_a_directory_or_has_its_answer() -> None:
    assert {title for title, recipe in STARTERS.items() if isinstance(recipe, ApiRecipe)} == ANSWERS.keys()


@pytest.mark.wild
def test_the_recipe_for_wordpress_reads_real_pages_of_it() -> None:
    recipe = STARTERS["Site on WordPress"]
    assert isinstance(recipe, Recipe)
    read, seen = [], 0
    for page in wild_pages():
        if page.body.count(b"hentry") < 3 or page.body.count(b"entry-title") < 3:
            continue
        tree = LexborHTMLParser(page.body.decode("utf-8", "replace"))
        posts = [post for post in tree.css(".hentry") if post.css_first(".entry-title")]
        if len(posts) >= 3:
            seen += 1
            rows = read_page(recipe, page.body.decode("utf-8", "replace"), page.url).rows
            read.append(sum(bool(row.get("name")) for row in rows) >= len(posts) - 1)
    assert seen >= 10
    assert sum(read) >= 0.9 * seen


@pytest.mark.world
def test_starters_are_handed_out_to_be_filled_in(tmp_path: Path) -> None:
    with new_application(tmp_path / "data") as app:
        found = app.get("/api/recipes/starters")
        assert [(item["api"] or item["directory"])["title"] for item in found] == sorted(STARTERS)
        assert all((item["api"] is None) != (item["directory"] is None) and item["about"] for item in found)
