"""A page's links: joined to its address, those worth reading first, and all that stay on the site."""

import re
from collections.abc import Iterable, Iterator
from urllib.parse import urljoin, urlsplit

from selectolax.lexbor import LexborHTMLParser

from openacorn.core.audit.extract.bounded import bounded

INNER_KINDS: tuple[tuple[str, re.Pattern[str]], ...] = (
    ("contact", re.compile(r"contact|kontakt|get[ -_]in[ -_]touch|find[ -_]us|reach[ -_]us|enquir", re.IGNORECASE)),
    ("about", re.compile(r"about|who[ -_]we[ -_]are|our[ -_]story", re.IGNORECASE)),
    ("team", re.compile(r"\bteam\b|our[ -_]people|staff", re.IGNORECASE)),
    ("imprint", re.compile(r"imprint|impressum|legal[ -_]notice", re.IGNORECASE)),
    ("booking", re.compile(r"\bbook|appointment", re.IGNORECASE)),
    ("privacy", re.compile(r"privacy", re.IGNORECASE)),
)
"""Kinds of inner page worth reading, best first, by the words of the link or its address (common practice)."""

NO_PAGE = (".pdf", ".jpg", ".jpeg", ".png", ".gif", ".webp", ".svg", ".zip", ".mp4", ".mp3", ".doc", ".docx", ".xml")
MAX_ANCHORS = 3000
"""No page made for people has more links; one made to be slow may have a hundred thousand."""


def absolute(base: str, links: Iterable[str | None]) -> Iterator[str]:
    """Each link that leads to a page, as a whole address; what cannot be joined is left out."""
    for link in links:
        if link:
            try:
                joined = urljoin(base, link.strip())
            except ValueError:
                continue
            if joined.startswith(("http://", "https://")):
                yield joined


def anchors_in(tree: LexborHTMLParser) -> list[tuple[str, str]]:
    """(href, text) of each link."""
    nodes = tree.css("a[href], area[href]")[:MAX_ANCHORS]
    return [(node.attributes.get("href") or "", node.text()) for node in nodes]


def _own_pages(base: str, anchors: Iterable[tuple[str, str]]) -> Iterator[tuple[str, str]]:
    """(address, text of the link) of links to other pages of the same host."""
    here = urlsplit(base)
    for href, text in anchors:
        for url in absolute(base, [href.split("#")[0]]):
            parts = urlsplit(url)
            same = parts.path.rstrip("/") == here.path.rstrip("/") and parts.query == here.query
            if parts.hostname == here.hostname and not same and not parts.path.lower().endswith(NO_PAGE):
                yield url, text


def inner_links(base: str, anchors: list[tuple[str, str]]) -> tuple[tuple[str, str], ...]:
    """Pick same-host pages by link text and address: at most one a kind, best kind first."""
    chosen: dict[str, str] = {}
    for url, text in _own_pages(base, anchors):
        path = urlsplit(url).path
        kind = next((kind for kind, words in INNER_KINDS if words.search(text) or words.search(path)), None)
        if kind and url not in chosen.values():
            chosen.setdefault(kind, url)
    return tuple((kind, chosen[kind]) for kind, _ in INNER_KINDS if kind in chosen)


def site_links(html: str, url: str) -> list[str]:
    """All other pages of the site that a page links to, in its order, each once. url: the page's own address."""
    tree = LexborHTMLParser(bounded(html)[0])
    return list(dict.fromkeys(there for there, _ in _own_pages(url, anchors_in(tree))))
