"""What a page loads: its files, its scripts by kind, and all of it by whose it is."""

from dataclasses import dataclass, replace

from selectolax.lexbor import LexborHTMLParser, LexborNode

from openacorn.core.audit.address import host_of
from openacorn.core.audit.evidence import FileKind, Subresource
from openacorn.core.audit.extract.links import absolute
from openacorn.core.audit.extract.nodes import attribute
from openacorn.core.audit.extract.parties import OWN_IN_SCRIPT, PICTURE, Loaded, sort_loaded


def in_noscript(node: LexborNode) -> bool:
    """Does the element stand where only visitors without scripts see it?"""
    parent = node.parent
    while parent is not None:
        if parent.tag == "noscript":
            return True
        parent = parent.parent
    return False


@dataclass(frozen=True, slots=True)
class Scripts:
    """A page's scripts by kind: JSON-LD blocks, other inline texts, addresses; `count` leaves data blocks out."""

    json_ld: list[str]
    inline: list[str]
    sources: list[str]
    count: int


def scripts_in(tree: LexborHTMLParser) -> Scripts:
    """Return the page's scripts by kind."""
    found = Scripts([], [], [], 0)
    for node in tree.css("script"):
        kind = node.attributes.get("type") or ""
        if source := attribute(node, "src"):
            found.sources.append(source)
        elif "ld+json" in kind:
            found.json_ld.append(node.text())
        elif "json" not in kind:
            found.inline.append(node.text())
    return replace(found, count=len(found.sources) + len(found.inline))


def subresources_in(base: str, tree: LexborHTMLParser, images: list[LexborNode]) -> tuple[Subresource, ...]:
    """Files that the page loads, blocking ones first, images last, each once."""
    found: dict[str, Subresource] = {}
    for node in tree.css("link[href]"):
        rel = (node.attributes.get("rel") or "").lower().split()
        if "stylesheet" in rel and "alternate" not in rel:
            media = (node.attributes.get("media") or "all").lower()
            for url in absolute(base, [node.attributes.get("href")]):
                found.setdefault(url, Subresource(url, FileKind.STYLE, media in {"all", "screen", ""}))
    for node in tree.css("script[src]"):
        attributes = node.attributes
        late = "async" in attributes or "defer" in attributes or attributes.get("type") == "module"
        for url in absolute(base, [attributes.get("src")]):
            found.setdefault(url, Subresource(url, FileKind.SCRIPT, not late))
    for node in images:
        if (node.attributes.get("loading") or "").lower() != "lazy" and not in_noscript(node):
            for url in absolute(base, [node.attributes.get("src")]):
                found.setdefault(url, Subresource(url, FileKind.IMAGE, False))
    return tuple(sorted(found.values(), key=lambda item: (not item.blocking, item.kind == FileKind.IMAGE)))


def traces_in(tree: LexborHTMLParser, images: list[LexborNode]) -> list[str]:
    """Addresses of embedded pages, pictures and linked files: where tags leave traces beside scripts."""
    found = [attribute(node, "src") or "" for node in [*tree.css("iframe[src]"), *images]]
    return found + [attribute(node, "href") or "" for node in tree.css("link[href]")]


def _pixels(base: str, images: list[LexborNode]) -> list[str]:
    """Addresses of pictures that may be there to count: next to invisible, or made by a program."""
    found = []
    for node in images:
        attributes = node.attributes
        tiny = attributes.get("width") in {"0", "1", "2"} or attributes.get("height") in {"0", "1", "2"}
        addresses = absolute(base, [attributes.get("src")])
        found += [url for url in addresses if tiny or not PICTURE.search(url.split("?")[0])]
    return found


def loaded_by(base: str, scripts: Scripts, images: list[LexborNode]) -> Loaded:
    """What the page loads, by whose it is; own scripts that inline ones name are among the site's own."""
    named = [path for text in scripts.inline for path in OWN_IN_SCRIPT.findall(text)]
    addresses = [*absolute(base, [*scripts.sources, *named])]
    return sort_loaded(host_of(base), addresses, _pixels(base, images), scripts.inline)
