"""Texts worded again, written by hand as language models write them: faithful ones, and ones with something false put in.

`rewrites.json` is what the words lists were made with; `rewrites_unseen.json` was written afterwards and changed nothing in them but
one list of joining words and verbs' prefixes, so its figures are the honest ones.
"""

import json
import re
from pathlib import Path
from typing import Any

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from openacorn.core.languages.catalogue import LANGUAGES
from openacorn.core.outreach.template_language import in_language
from openacorn.core.writing.fidelity import RewriteCheck, Statement, check_rewrite, split_sentences
from openacorn.outreach.template_library import shipped_templates

CASES: dict[str, list[dict[str, Any]]] = {
    name: json.loads((Path(__file__).parent / f"{name}.json").read_text(encoding="utf-8"))
    for name in ("rewrites", "rewrites_unseen")
}
EVERY = [case for cases in CASES.values() for case in cases]
STRICT = "says more than|is not in your text"


def judged(case: dict[str, Any], text: str) -> RewriteCheck:
    before = [
        Statement(sentence, (f"reason {number}",)) for number, sentence in enumerate(split_sentences(case["draft"]))
    ]
    return check_rewrite(before, text, case["facts"], case["language"])


@pytest.mark.parametrize("case", EVERY, ids=lambda case: f"{case['language']} {case['draft'][:25]!r}")
def test_nothing_false_passes(case: dict[str, Any]) -> None:
    assert [(kind, text) for kind, text in case["false"] if judged(case, text).holds] == []


@pytest.mark.parametrize(("name", "least"), [("rewrites", 0.75), ("rewrites_unseen", 0.75)])
def test_what_is_faithful_mostly_passes(name: str, least: float) -> None:
    found = [judged(case, text).holds for case in CASES[name] for text in case["faithful"]]
    assert sum(found) / len(found) >= least, f"{sum(found)} of {len(found)}"


@given(st.sampled_from(EVERY), st.data())
def test_a_number_changed_is_seen(case: dict[str, Any], data: st.DataObject) -> None:
    text = case["draft"]
    found = list(re.finditer(r"(?<![\w/.])\d+(?:[.,]\d+)?", text))
    assume(found)
    match = data.draw(st.sampled_from(found))
    known = set(re.findall(r"\d+", " ".join([text, *case["facts"]])))
    other = data.draw(st.integers(13, 9999).filter(lambda value: str(value) not in known))
    assert not judged(case, f"{text[: match.start()]}{other}{text[match.end() :]}").holds


@given(st.sampled_from(EVERY), st.text("bcdfghjklmnpqrstvwxz", min_size=6, max_size=12), st.data())
def test_a_word_from_nowhere_is_seen(case: dict[str, Any], word: str, data: st.DataObject) -> None:
    spaces = [match.start() for match in re.finditer(" ", case["draft"])]
    at = data.draw(st.sampled_from(spaces))
    assert not judged(case, f"{case['draft'][:at]} {word}{case['draft'][at:]}").holds


@pytest.mark.parametrize("language", LANGUAGES)
def test_every_shipped_text_may_be_said_again_as_it_is(language: str) -> None:
    for template in shipped_templates().values():
        text = re.sub(r"{%.*?%}|{{.*?}}", "", in_language(template, language).text)
        found = check_rewrite([Statement(sentence) for sentence in split_sentences(text)], text, [], language)
        assert [item for item in found.sentences if item.problems] == [], template.id


def test_reasons_go_along_and_what_is_wrong_is_named() -> None:
    before = [Statement("Your website has no map.", ("map: none on any page",)), Statement("May I call you on Friday?")]
    found = check_rewrite(before, "Hi! There is no map on your website.\nCan I call on Friday?", [], "en")
    assert [item.because for item in found.sentences] == [(), ("map: none on any page",), ()]
    wrong = check_rewrite(before, "Your website has a map. It has 3 maps. Rivals have one.", [], "en")
    assert [item.problems for item in wrong.sentences] == [
        ("it says what your text denies",), ("the number 3 is not in your text or the facts",), ("“Rivals” is not in your text or the facts",),
    ]  # fmt: skip
    assert not check_rewrite(before, "", [], "en").holds
