"""Recipes found in answers of shapes that are none of the simulated coast's: how further pages are announced."""

import json
from typing import Any

import jmespath
import pytest
from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.gather.api_finder import propose_api
from openacorn.core.gather.api_reader import read_places
from openacorn.core.gather.api_recipe import Asked, find

FIRMS = [{"ref": n, "title": f"Firm {n}", "tel": f"+61 3 7010 400{n}", "city": "Brindle Quay"} for n in range(3)]
HERE = "https://api.example/firms?what=vets&page=1&per_page=3"


@pytest.mark.parametrize(
    ("around", "path"),
    [
        ({"has_more": True}, "has_more"),
        ({"meta": {"hasNextPage": True, "total_pages": 9}}, "meta.hasNextPage"),
        ({"pagination": {"more": True}}, "pagination.more"),
        ({"more": "https://api.example/about"}, ""),
        ({}, ""),
    ],
)
def test_whether_there_is_more_is_read_where_the_answer_says_it(around: dict[str, Any], path: str) -> None:
    answer = {"data": FIRMS, **around}
    recipe = propose_api(HERE, json.dumps(answer).encode(), Asked("vets"), title="x")
    assert (recipe.items, recipe.more) == ("data", path)
    assert recipe.address == "https://api.example/firms?what={term}&page={page}&per_page={limit}"

    def more(said: dict[str, Any]) -> bool:
        return read_places(recipe, Asked("vets"), json.dumps(said).encode(), {}, HERE).more

    assert more(answer)  # a full page, and nothing against it
    if path:
        over = json.loads(json.dumps(answer).replace("true", "false"))
        assert not more(over)  # the same full page, and it says that this was all
        assert more({**answer, "data": FIRMS[:1]})  # a short page that says there is more
    else:
        assert not more({**answer, "data": FIRMS[:1]})


NAMES = st.sampled_from(["a", "b", "a_1", "keys", "null"])
DOCUMENTS = st.recursive(
    st.none() | st.booleans() | st.integers() | st.text(max_size=3),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(NAMES, inner, max_size=4),
    max_leaves=12,
)


@given(DOCUMENTS, st.lists(NAMES, min_size=1, max_size=4).map(".".join))
def test_a_path_of_names_leads_where_the_library_says(document: Any, path: str) -> None:
    """Beside jmespath's own answer, which the shortcut stands for."""
    assert find(path, document) == jmespath.search(path, document)
