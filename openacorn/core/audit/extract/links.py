"""A page's links: joined to its address, those worth reading first, and all that stay on the site."""

import re
from collections.abc import Iterable, Iterator
from functools import lru_cache
from urllib.parse import unquote, urljoin, urlsplit

from selectolax.lexbor import LexborHTMLParser, LexborNode

from openacorn.core.audit.address import FETCHABLE
from openacorn.core.audit.extract.bounded import bounded
from openacorn.core.audit.extract.vocabulary import first_kind

INNER_KINDS = ("contact", "about", "team", "imprint", "booking", "privacy")
"""Kinds of inner page worth reading, best first, by the words of the link or its address (common practice)."""

LABEL_CHARS = 120
"""A longer text of a link is a teaser, whose words say what an article is about."""

LINKS = "a, area[href]"
BUTTONS = "button, input[type=submit], input[type=button], input[type=image], [role=button]"

NO_PAGE = (".pdf", ".jpg", ".jpeg", ".png", ".gif", ".webp", ".svg", ".zip", ".mp4", ".mp3", ".doc", ".docx", ".xml")
MAX_ANCHORS = 3000
"""No page made for people has more links; one made to be slow may have a hundred thousand."""


WHOLE = re.compile(r"https?://[A-Za-z0-9][\w.:~%@!$&'()*+,=/-]*(?:\?[\w.:~%@!$&'()*+,=/?-]+)?", re.ASCII)
"""An address that joining leaves as it is: no fragment, nothing empty, no marks that have to go."""

BELOW = re.compile(r"/(?:[\w~%@!$&'()*+,=:-][\w.~%@!$&'()*+,=:-]*(?:/|$))*", re.ASCII)
"""A path from the site's top that joining only puts behind the host: no part is empty or begins with a dot."""

_SITE = re.compile(r"https?://[^/?#\s]+")
_OTHER_SCHEME = re.compile(r"(?!https?:)[a-z][a-z0-9+.-]*:", re.I)


def absolute(base: str, links: Iterable[str | None]) -> Iterator[str]:
    """Each link that leads to a page, as a whole address; what cannot be joined is left out."""
    for link in links:
        if link and (joined := _joined(base, link)) is not None:
            yield joined


@lru_cache(maxsize=8192)
def _joined(base: str, link: str) -> str | None:
    """A link as a whole address, None if it leads to no page. Most need no parser: joining by it was a fifth of reading a page."""
    link = link.strip()
    if WHOLE.fullmatch(link):
        return link
    if BELOW.fullmatch(link) and (site := _SITE.match(base)):
        return site[0] + link
    if _OTHER_SCHEME.match(link):
        return None
    return _joined_by_parser(base, link)


def _joined_by_parser(base: str, link: str) -> str | None:
    try:
        joined = urljoin(base, link)
    except ValueError:
        return None
    return joined if joined.startswith(("http://", "https://")) else None


def _label(node: LexborNode) -> str:
    """What a link or button says: its text, else what stands for it: label, title, value, the text of its picture."""
    text = " ".join(node.text(separator=" ").split())
    if any(char.isalnum() for char in text):
        return text
    attributes = node.attributes
    said = [attributes.get(name) for name in ("aria-label", "title", "value", "alt")]
    said += [image.attributes.get(name) for image in node.css("img, input") for name in ("alt", "title")]
    return next((" ".join(words.split()) for words in said if words and words.strip()), text)


def anchors_in(tree: LexborHTMLParser) -> list[tuple[str, str]]:
    """(address, what it says) of each link; "" for one that leads nowhere without a script."""
    return [(node.attributes.get("href") or "", _label(node)) for node in tree.css(LINKS)[:MAX_ANCHORS]]


def buttons_in(tree: LexborHTMLParser) -> list[tuple[str, str]]:
    """("", what it says) of each button, in the shape of links."""
    return [("", _label(node)) for node in tree.css(BUTTONS)[:MAX_ANCHORS]]


@lru_cache(maxsize=8192)
def kind_of(label: str, address: str) -> str | None:
    """The kind of inner page that a link leads to, by its own words before those of its address."""
    path = re.sub(r"[-_/.+]|%20", " ", unquote(urlsplit(address).path))
    for text in (label if len(label) <= LABEL_CHARS else "", path):
        if text.strip() and (kind := first_kind(INNER_KINDS, text)):
            return kind
    return None


def _own_pages(base: str, anchors: Iterable[tuple[str, str]]) -> Iterator[tuple[str, str]]:
    """(address, text of the link) of links to other pages of the same host."""
    host, *here = _where(base)
    for href, text in anchors:
        for url in absolute(base, [href.split("#")[0]]):
            other, path, query = _where(url)
            if other == host and [path, query] != here and not path.lower().endswith(NO_PAGE):
                yield url, text


@lru_cache(maxsize=8192)
def _where(url: str) -> tuple[str | None, str, str]:
    """(host, path without a slash at its end, query)."""
    usual = FETCHABLE.match(url)
    if usual and "#" not in url:
        path, _, query = url[usual.end(1) :].partition("?")
        return usual[1], (path[path.find("/") :] if "/" in path else "").rstrip("/"), query
    parts = urlsplit(url)
    return parts.hostname, parts.path.rstrip("/"), parts.query


def inner_links(base: str, anchors: list[tuple[str, str]]) -> tuple[tuple[str, str], ...]:
    """Pick same-host pages by link text and address: at most one a kind, best kind first."""
    chosen: dict[str, str] = {}
    for url, text in _own_pages(base, anchors):
        kind = kind_of(text, url)
        if kind and url not in chosen.values():
            chosen.setdefault(kind, url)
    return tuple((kind, chosen[kind]) for kind in INNER_KINDS if kind in chosen)


def site_links(html: str, url: str) -> list[str]:
    """All other pages of the site that a page links to, in its order, each once. url: the page's own address."""
    tree = LexborHTMLParser(bounded(html)[0])
    return list(dict.fromkeys(there for there, _ in _own_pages(url, anchors_in(tree))))
