"""What the pages of an old website say, in blocks: headings, paragraphs, items of lists. Menus, banners, footers are left out."""

import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Any, Literal

from selectolax.lexbor import LexborHTMLParser

Kind = Literal["heading", "text", "item"]
LEAST_TEXT, MOST_TEXT = 25, 1200
"""Characters of a paragraph: shorter ones are labels, longer ones are parted."""

BETWEEN_CELLS = " – "
_NO_LETTER = re.compile(r"\W+")
_SPACE = re.compile(r"\s+")
_SENTENCE_END = re.compile(r"(?<=[.!?…])\s+|(?<=[。！？])")
LINE_OF_FACTS = 90
_FACTS = re.compile(r"\d{1,2}\s?[.:h]\s?\d{2}\b|\b\d{1,2}\s?[ap]m\b|@|\+?\d[\d\s()/-]{7,}\d")
"""Hours, addresses and numbers: a short paragraph with one of them is no copy, and the facts have it."""

UNSEEN = ["//noscript", "//template", "//*[@hidden]", "//*[@aria-hidden='true']"]
_NOISE = re.compile(
    r"©|\(c\)\s*\d{4}|all rights reserved|alle rechte vorbehalten|tous droits réservés|cookie|javascript|click here|read more|"
    r"lorem ipsum|skip to|page not found|under construction|powered by|subscribe|newsletter",
    re.I,
)
"""Words of what a website says about itself, and of a page that was never filled in."""


@dataclass(frozen=True, slots=True)
class Block:
    """A piece of a page. level: of a heading (1…6), 0 for others; url: of the page."""

    kind: Kind
    text: str
    url: str
    level: int = 0


@dataclass(frozen=True, slots=True)
class Passage:
    """What stands under one heading. title: "" where none does; items: of its lists."""

    title: str
    texts: tuple[str, ...]
    items: tuple[str, ...]
    url: str


def _pieces(node: Any) -> Iterator[tuple[str, str, int]]:
    """(kind, text, level) of an extract's tree, in order; a list's items are not looked into again."""
    for child in node:
        text = _SPACE.sub(" ", "".join(child.itertext())).strip()
        if child.tag == "head":
            rank = child.get("rend", "h2")
            yield "heading", text, int(rank[1]) if rank[1:].isdigit() else 2
        elif child.tag == "list":
            for item in child.iter("item"):
                yield "item", _SPACE.sub(" ", "".join(item.itertext())).strip(), 0
        elif child.tag == "row":
            cells = (_SPACE.sub(" ", "".join(cell.itertext())).strip() for cell in child.iter("cell"))
            yield "item", BETWEEN_CELLS.join(filter(None, cells)), 0
        elif child.tag in {"p", "quote", "code"}:
            yield "text", text, 0
        else:
            yield from _pieces(child)


def _parted(text: str) -> Iterator[str]:
    """A text in paragraphs of at most MOST_TEXT characters, parted where sentences end; a longer sentence is left out."""
    paragraph = ""
    for sentence in _SENTENCE_END.split(text):
        if paragraph and len(paragraph) + 1 + len(sentence) > MOST_TEXT:
            yield paragraph
            paragraph = ""
        if len(sentence) <= MOST_TEXT:
            paragraph = f"{paragraph} {sentence}".strip()
    if paragraph:
        yield paragraph


def read_blocks(html: str, url: str) -> list[Block]:
    """The blocks of a page's main text. Empty for a page that has none, or is drawn by scripts."""
    import trafilatura  # heavy, and only beginning a website needs it
    from lxml import etree

    found = trafilatura.extract(
        html, output_format="xml", favor_recall=True, include_comments=False, include_tables=True, prune_xpath=UNSEEN
    )
    if not found:
        return []
    blocks = [
        Block(kind, part, url, level)  # type: ignore[arg-type]
        for kind, text, level in _pieces(etree.fromstring(found))
        for part in (_parted(text) if kind == "text" else (text,))
        if part
    ]
    shown = _shown(html)
    return [block for block in blocks if _worth(block) and _squeezed(block.text.replace(BETWEEN_CELLS, " ")) in shown]


def _squeezed(text: str) -> str:
    return _NO_LETTER.sub("", text).lower()


def _shown(html: str) -> str:
    """All text of a page without its spaces: an extract can stitch pieces together that do not stand beside each other there."""
    tree = LexborHTMLParser(html)
    tree.strip_tags(["script", "style"])
    return _squeezed(tree.text())


def _worth(block: Block) -> bool:
    if block.kind == "text" and len(block.text) < LINE_OF_FACTS and _FACTS.search(block.text):
        return False
    if _NOISE.search(block.text) and len(block.text) < 200:
        return False
    if block.kind == "text":
        return len(block.text) >= LEAST_TEXT
    return 2 <= len(block.text) <= 200


def passages(blocks: Iterable[Block]) -> list[Passage]:
    """Blocks by the heading that they stand under. What one page repeats from another is kept once."""
    seen: set[str] = set()
    found: list[Passage] = []
    title, texts, items, url = "", list[str](), list[str](), ""

    def close() -> None:
        if texts or items:
            found.append(Passage(title, tuple(texts), tuple(items), url))

    for block in blocks:
        if block.kind == "heading" or block.url != url:
            close()
            title, texts, items, url = block.text if block.kind == "heading" else "", [], [], block.url
        if block.kind == "heading" or block.text.lower() in seen:
            continue
        seen.add(block.text.lower())
        (texts if block.kind == "text" else items).append(block.text)
    close()
    return found
