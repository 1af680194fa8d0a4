"""The screens speak as people at an agency do: short sentences, and none of the words that once had to be decoded."""

import re
from collections.abc import Iterator
from pathlib import Path

import pytest

SOURCE = Path(__file__).parents[2] / "web" / "src"
LONGEST = 20
"""Words in a sentence."""

LONGEST_README = 28

GONE = (
    "told", "deed", "sayable", "whom", "foretold", "by itself", "let it go", "let go", "pass over", "passed over", "keep it",
    "take it away", "take away", "standing lists", "doubtful", "set off by", "stands in", "near by", "is held", "are held",
    "a page of its own", "which column says", "at the latest", "whatever the", "in all", "whoever", "anew", "whence",
)  # fmt: skip
"""Words and turns that must not come back on a screen."""

COMMENT = re.compile(r"/\*.*?\*/|(?<!:)//[^\n]*", re.DOTALL)
CODE = re.compile(r"=>|&&|\|\||[{}();=\[\]]|\?\.|===|\bconst\b|\bvoid\b")
TEXTS = (
    re.compile(r">([^<>{}]+)(?=[<{])"),  # between tags
    re.compile(r"\}([^<>{}]+)(?=[<{])"),  # after a value
    re.compile(r'(?:title|aria-label|placeholder|alt|hint|label|text)[=:]\s*"([^"\n]+)"'),
    re.compile(r'[?:(\[,&]\s*"([A-Z][^"\n]* [^"\n]*)"'),  # a sentence chosen by a condition
)


def shown() -> Iterator[tuple[str, str]]:
    """(file, text) of what the pages' sources show, as far as it stands in them whole."""
    for path in sorted(SOURCE.rglob("*.tsx")):
        source = COMMENT.sub("", path.read_text(encoding="utf-8"))
        for pattern in TEXTS:
            for found in pattern.finditer(source):
                text = " ".join(found.group(1).split())
                if re.search(r"[A-Za-z]{2}", text) and not CODE.search(text):
                    yield path.name, text


def too_long(text: str, longest: int = LONGEST) -> list[str]:
    sentences = re.split(r"(?<=[.!?:;…])\s+", " ".join(text.split()))
    return [sentence for sentence in sentences if len(re.findall(r"[\w’'-]+", sentence)) > longest]


def test_the_reader_of_sources_finds_what_screens_show() -> None:
    texts = {text for _, text in shown()}
    assert {"Keyboard shortcuts", "No businesses yet", "Skip", "Search names, towns and sites"} <= texts
    assert len(texts) > 400


def test_no_sentence_on_a_screen_is_long() -> None:
    assert [(file, sentence) for file, text in shown() for sentence in too_long(text)] == []


def test_no_sentence_of_the_readme_is_long() -> None:
    text = (SOURCE.parents[1] / "README.md").read_text(encoding="utf-8")
    prose = re.sub(r"```.*?```|!\[[^\]]*\]\([^)]*\)|(?m:^\|[^\n]*$)", "", text, flags=re.DOTALL)
    assert [sentence for part in re.split(r"\n\s*\n|\n- ", prose) for sentence in too_long(part, LONGEST_README)] == []


@pytest.mark.parametrize("word", GONE)
def test_no_word_comes_back_that_had_to_be_decoded(word: str) -> None:
    said = re.compile(rf"\b{word}\b", re.IGNORECASE)
    assert [(file, text) for file, text in shown() if said.search(text)] == []
