"""One page's source to facts, in one pass over the parsed tree."""

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace

from selectolax.lexbor import LexborHTMLParser, LexborNode

from openacorn.core.audit.evidence import FileKind, PageFacts, Subresource
from openacorn.core.audit.extract.bounded import bounded
from openacorn.core.audit.extract.contacts import find_emails, find_phones
from openacorn.core.audit.extract.content import read_markup, read_text
from openacorn.core.audit.extract.links import absolute, anchors_in, inner_links
from openacorn.core.audit.extract.placeholder import find_placeholder
from openacorn.core.audit.extract.site_name import site_name
from openacorn.core.audit.extract.socials import find_socials
from openacorn.core.audit.extract.structured import find_items, find_types, read_blocks
from openacorn.core.audit.extract.tags import find_tags

APP_ROOTS = "#root, #app, #__next, #__nuxt, app-root, #svelte, #___gatsby, [data-reactroot], #main-app"
INVISIBLE = ["script", "style", "noscript", "template", "svg", "iframe", "object"]
REFRESH = re.compile(r"^\s*(\d+)\s*[;,]\s*url\s*=\s*[\"']?([^\"']+)", re.IGNORECASE)
REFRESH_MAX_SECONDS = 5


def _attribute(node: LexborNode | None, name: str) -> str | None:
    return None if node is None else (node.attributes.get(name) or "").strip() or None


def _meta(tree: LexborHTMLParser) -> dict[str, str]:
    """Named meta elements: name, property or http-equiv in lower case → first non-empty content."""
    found: dict[str, str] = {}
    for node in tree.css("meta"):
        attributes = node.attributes
        key = attributes.get("name") or attributes.get("property") or attributes.get("http-equiv")
        content = (attributes.get("content") or "").strip()
        if key and content:
            found.setdefault(key.strip().lower(), " ".join(content.split()))
    return found


def _in_noscript(node: LexborNode) -> bool:
    parent = node.parent
    while parent is not None:
        if parent.tag == "noscript":
            return True
        parent = parent.parent
    return False


def _labelled(attributes: Mapping[str, str | None]) -> bool:
    """Is there a text in place of the image? `alt=""` says that none is needed, an alt of spaces alone says nothing."""
    alt = (attributes["alt"] or "") if "alt" in attributes else " "
    if alt == "" or alt.strip():
        return True
    return any((attributes.get(name) or "").strip() for name in ("aria-label", "aria-labelledby", "title"))


def _images(tree: LexborHTMLParser) -> tuple[int, list[str], list[LexborNode]]:
    """Return (images a visitor sees, sources of those with no alt attribute, all image elements).

    WCAG 2, technique H67: an empty `alt` marks decoration and is right. Tracking pixels (1×1 or in noscript) and
    images hidden from assistive technology do not count.
    """
    nodes = tree.css("img")
    count, without = 0, []
    for node in nodes:
        attributes = node.attributes
        tiny = attributes.get("width") in {"0", "1"} or attributes.get("height") in {"0", "1"}
        if tiny or _in_noscript(node):
            continue
        count += 1
        if (
            not _labelled(attributes)
            and attributes.get("role") not in {"presentation", "none"}
            and attributes.get("aria-hidden") != "true"
        ):
            without.append((attributes.get("src") or "no source")[:120])
    return count, without, nodes


def _subresources(base: str, tree: LexborHTMLParser, images: list[LexborNode]) -> tuple[Subresource, ...]:
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
        if (node.attributes.get("loading") or "").lower() != "lazy" and not _in_noscript(node):
            for url in absolute(base, [node.attributes.get("src")]):
                found.setdefault(url, Subresource(url, FileKind.IMAGE, False))
    return tuple(sorted(found.values(), key=lambda item: (not item.blocking, item.kind == FileKind.IMAGE)))


def _loaded(tree: LexborHTMLParser, images: list[LexborNode]) -> list[str]:
    """Addresses of embedded pages, pictures and linked files: where tags leave traces beside scripts."""
    found = [_attribute(node, "src") or "" for node in [*tree.css("iframe[src]"), *images]]
    return found + [_attribute(node, "href") or "" for node in tree.css("link[href]")]


def _headings(tree: LexborHTMLParser) -> tuple[tuple[int, str], ...]:
    """(level, text) of each heading; a picture in a heading speaks by its alternative text."""
    found = []
    for node in tree.css("h1, h2, h3, h4, h5, h6"):
        text = " ".join(node.text(separator=" ").split())
        if not text:
            text = " ".join(filter(None, (_attribute(image, "alt") for image in node.css("img"))))
        found.append((int((node.tag or "h0")[1]), text[:200]))
    return tuple(found)


def _title(tree: LexborHTMLParser) -> tuple[str | None, int]:
    """The document's title and how many there are; titles inside drawings (SVG) are not it."""
    nodes = [
        node for node in tree.css("title") if node.parent is not None and node.parent.tag in {"head", "html", "body"}
    ]
    texts = [" ".join(node.text().split()) for node in nodes]
    return next((text for text in texts if text), None), len(nodes)


def _refresh_target(base: str, content: str | None) -> str | None:
    match = REFRESH.match(content or "")
    if not match or int(match.group(1)) > REFRESH_MAX_SECONDS:
        return None
    return next(absolute(base, [match.group(2)]), None)


@dataclass(frozen=True, slots=True)
class _Scripts:
    """A page's scripts by kind: JSON-LD blocks, other inline texts, addresses; `count` leaves data blocks out."""

    json_ld: list[str]
    inline: list[str]
    sources: list[str]
    count: int


def _scripts(tree: LexborHTMLParser) -> _Scripts:
    found = _Scripts([], [], [], 0)
    for node in tree.css("script"):
        kind = node.attributes.get("type") or ""
        if source := _attribute(node, "src"):
            found.sources.append(source)
        elif "ld+json" in kind:
            found.json_ld.append(node.text())
        elif "json" not in kind:
            found.inline.append(node.text())
    return replace(found, count=len(found.sources) + len(found.inline))


def _protected(tree: LexborHTMLParser, hrefs: list[str]) -> list[str]:
    """Values of the common e-mail protection, in an attribute or behind the mark of a link."""
    found = [_attribute(node, "data-cfemail") or "" for node in tree.css("[data-cfemail]")]
    return found + [href.rpartition("#")[2] for href in hrefs if "/cdn-cgi/l/email-protection#" in href]


def _empty_root(tree: LexborHTMLParser) -> str | None:
    """The element that an application would fill, if it is there and empty."""
    root = tree.css_first(APP_ROOTS)
    return root.html[:80] if root is not None and root.html and not root.text().strip() else None


def _base(tree: LexborHTMLParser, url: str) -> str:
    return next(absolute(url, [_attribute(tree.css_first("base[href]"), "href")]), url)


def _frames(tree: LexborHTMLParser, base: str) -> tuple[str, ...]:
    return tuple(absolute(base, (_attribute(node, "src") for node in tree.css("frame[src]"))))


def _visible(tree: LexborHTMLParser) -> str:
    """What a visitor reads, every piece on a line of its own; the rest is taken out of the tree."""
    tree.strip_tags(INVISIBLE)
    return tree.body.text(separator="\n") if tree.body is not None else ""


def _behind(hrefs: list[str], scheme: str) -> list[str]:
    return [href[len(scheme) :] for href in hrefs if href[: len(scheme)].lower() == scheme]


def read_page(html: str, url: str, at: str, region: str | None = None, html_bytes: int = 0) -> PageFacts:
    """Read every fact that checks ask for out of one page.

    html: decoded source. url: its final address. at: ISO 8601 time of the fetch. region: ISO 3166 code in which national
    phone numbers are read. html_bytes: size as transferred. Broken markup is read as browsers read it (HTML standard).
    """
    html, cut = bounded(html)
    tree = LexborHTMLParser(html)
    base = _base(tree, url)
    meta = _meta(tree)
    title, title_count = _title(tree)
    image_count, without_alt, image_nodes = _images(tree)
    scripts = _scripts(tree)
    anchors = anchors_in(tree)
    hrefs = [href for href, _ in anchors]
    objects, broken = read_blocks(scripts.json_ld)
    types = find_types(objects, [_attribute(node, "itemtype") or "" for node in tree.css("[itemtype]")])
    app_root, protected = _empty_root(tree), _protected(tree, hrefs)
    subresources, headings = _subresources(base, tree, image_nodes), _headings(tree)
    loaded = _loaded(tree, image_nodes)

    markup = read_markup(tree, base, anchors, meta)
    items = find_items(objects, tree)

    lines = _visible(tree)  # from here on only what a visitor reads is left
    text = " ".join(lines.split())
    words = len(text.split())
    phones, phone_like = find_phones(text, _behind(hrefs, "tel:"), region)
    placeholder, placeholder_words = find_placeholder(title or "", text, words)
    return PageFacts(
        url=url,
        at=at,
        title=title,
        title_count=title_count,
        description=meta.get("description"),
        viewport=meta.get("viewport"),
        language=_attribute(tree.css_first("html"), "lang"),
        generator=meta.get("generator"),
        refresh_to=_refresh_target(base, meta.get("refresh")),
        headings=headings,
        images=image_count,
        images_without_alt=tuple(without_alt),
        words=words,
        text_start=text[:300],
        script_count=scripts.count,
        app_root=app_root,
        frames=_frames(tree, base),
        placeholder=placeholder,
        placeholder_snippet=placeholder_words,
        tags=find_tags([*scripts.sources, *scripts.inline, *loaded], hrefs),
        emails=find_emails(text, _behind(hrefs, "mailto:"), protected, scripts.inline),
        phones=phones,
        phone_like=phone_like,
        socials=find_socials(absolute(base, hrefs)),
        schema_types=types,
        schema_broken=broken,
        inner_links=inner_links(base, anchors),
        subresources=subresources,
        html_bytes=html_bytes or len(html),
        cut=cut,
        site_name=site_name(meta.get("og:site_name"), title, url),
        content=replace(read_text(text, lines, markup), items=items),
    )
