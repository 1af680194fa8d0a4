"""One page's source to facts, in one pass over the parsed tree."""

import re
from collections.abc import Mapping
from dataclasses import replace
from urllib.parse import unquote

from selectolax.lexbor import LexborHTMLParser, LexborNode

from openacorn.core.audit.address import host_of
from openacorn.core.audit.evidence import PageFacts
from openacorn.core.audit.extract.bounded import bounded
from openacorn.core.audit.extract.content import find_actions, read_markup, read_text
from openacorn.core.audit.extract.emails import find_emails
from openacorn.core.audit.extract.links import absolute, anchors_in, buttons_in, inner_links
from openacorn.core.audit.extract.loading import in_noscript, loaded_by, scripts_in, subresources_in, traces_in
from openacorn.core.audit.extract.nodes import attribute
from openacorn.core.audit.extract.parties import is_own, party_of
from openacorn.core.audit.extract.phones import find_phones
from openacorn.core.audit.extract.placeholder import find_placeholder
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.extract.site_name import site_name
from openacorn.core.audit.extract.socials import find_socials
from openacorn.core.audit.extract.structured import find_items, find_types, read_blocks
from openacorn.core.audit.extract.tags import find_tags
from openacorn.core.audit.extract.videos import VIDEO_HOSTS
from openacorn.core.audit.extract.vocabulary import base_language, count_words, language_of
from openacorn.core.geo.region import region_of_page

APP_ROOTS = (
    "#root, #app, #__next, #__nuxt, app-root, #svelte, #___gatsby, [data-reactroot], #main-app, #q-app, #app-root, #react-root, "
    "#react-app, #vue-app, #application, #elm, #mount, #preact_root, #ember-app, [ng-app], [ng-view], [data-ng-app], [ng-version], "
    "[ui-view], [data-server-rendered], body > div[id$=-app], body > div[id$=-root]"
)
ROOT_WORDS = 3
"""An element that waits to be filled may say "Loading …"."""

INVISIBLE = ["script", "style", "noscript", "template", "svg", "iframe", "object"]
REFRESH = re.compile(r"^\s*(\d+)\s*[;,]\s*url\s*=\s*[\"']?([^\"']+)", re.IGNORECASE)
REFRESH_MAX_SECONDS = 5


def _meta(tree: LexborHTMLParser) -> dict[str, str]:
    """Named meta elements: name or property in lower case → first non-empty content; those that stand for a header (http-equiv)
    under "http:" and its name, as they are read for other things."""
    found: dict[str, str] = {}
    for node in tree.css("meta"):
        attributes = node.attributes
        header = attributes.get("http-equiv")
        key = attributes.get("name") or attributes.get("property") or (f"http:{header}" if header else "")
        content = (attributes.get("content") or "").strip()
        if key and content:
            found.setdefault(key.strip().lower(), " ".join(content.split()))
    return found


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
        if tiny or in_noscript(node):
            continue
        count += 1
        if (
            not _labelled(attributes)
            and attributes.get("role") not in {"presentation", "none"}
            and attributes.get("aria-hidden") != "true"
        ):
            without.append((attributes.get("src") or "no source")[:120])
    return count, without, nodes


def _headings(tree: LexborHTMLParser) -> tuple[tuple[int, str], ...]:
    """(level, text) of each heading; a picture in a heading speaks by its alternative text."""
    found = []
    for node in tree.css("h1, h2, h3, h4, h5, h6"):
        text = " ".join(node.text(separator=" ").split())
        if not text:
            text = " ".join(filter(None, (attribute(image, "alt") for image in node.css("img"))))
        found.append((int((node.tag or "h0")[1]), text[:200]))
    return tuple(found)


def _in_drawing(node: LexborNode) -> bool:
    return node.parent is not None and node.parent.tag in {"svg", "symbol", "g", "path", "use", "defs"}


def _title(tree: LexborHTMLParser) -> tuple[str | None, int]:
    """The document's title and how many there are; titles inside drawings (SVG) are not it."""
    nodes = [node for node in tree.css("title") if not _in_drawing(node)]
    texts = [" ".join(node.text().split()) for node in nodes]
    return next((text for text in texts if text), None), len(nodes)


def _language(tree: LexborHTMLParser, meta: Mapping[str, str]) -> str | None:
    """The language that the page declares: on its root or its body, else in the meta element for it."""
    root, body = tree.css_first("html"), tree.css_first("body")
    named = [attribute(node, name) for node in (root, body) for name in ("lang", "xml:lang")]
    return next(filter(None, named), None) or meta.get("http:content-language")


def _framed_form(tree: LexborHTMLParser) -> str:
    """The address of the first frame that a form builder fills, "" if there is none."""
    addresses = [attribute(node, "src") or attribute(node, "data-src") or "" for node in tree.css("iframe")]
    return next((url[:160] for url in addresses if any(hit.kind == TagKind.FORM for hit in find_tags([url]))), "")


def _strange_frame(tree: LexborHTMLParser, base: str) -> str:
    """The first frame of a host that nobody knows, "" if there is none."""
    addresses = absolute(base, (attribute(node, "src") or attribute(node, "data-src") for node in tree.css("iframe")))
    there = (url for url in addresses if not is_own(host_of(url), host_of(base)) and party_of(host_of(url)) is None)
    return next((url[:160] for url in there if not VIDEO_HOSTS.search(url)), "")


def _refresh_target(base: str, content: str | None) -> str | None:
    match = REFRESH.match(content or "")
    if not match or int(match.group(1)) > REFRESH_MAX_SECONDS:
        return None
    return next(absolute(base, [match.group(2)]), None)


def _protected(tree: LexborHTMLParser, hrefs: list[str]) -> list[str]:
    """Values of the common e-mail protection, in an attribute or behind the mark of a link."""
    found = [attribute(node, "data-cfemail") or "" for node in tree.css("[data-cfemail]")]
    return found + [href.rpartition("#")[2] for href in hrefs if "/cdn-cgi/l/email-protection#" in href]


def _empty_root(tree: LexborHTMLParser) -> str | None:
    """The element that an application would fill, if it is there and empty."""
    waiting = [*tree.css(APP_ROOTS), *(node for node in tree.css("body > *") if "-" in (node.tag or ""))]
    for root in waiting:
        text = " ".join(part for node in root.traverse(include_text=True) if (part := _own_text(node)))
        if root.html and len(text.split()) <= ROOT_WORDS:
            return root.html[:80]
    return None


def _own_text(node: LexborNode) -> str:
    """A text node's text, "" for elements and for the contents of scripts and styles."""
    parent = node.parent
    seen = node.tag == "-text" and (parent is None or parent.tag not in INVISIBLE)
    return (node.text_content or "").strip() if seen else ""


def _base(tree: LexborHTMLParser, url: str) -> str:
    return next(absolute(url, [attribute(tree.css_first("base[href]"), "href")]), url)


def _frames(tree: LexborHTMLParser, base: str) -> tuple[str, ...]:
    return tuple(absolute(base, (attribute(node, "src") for node in tree.css("frame[src]"))))


def _visible(tree: LexborHTMLParser) -> str:
    """What a visitor reads, every piece on a line of its own; the rest is taken out of the tree."""
    tree.strip_tags(INVISIBLE)
    return tree.body.text(separator="\n") if tree.body is not None else ""


CHAT_LINK = re.compile(
    r"(?:wa\.me/|api\.whatsapp\.com/send/?\?phone=|viber://chat\?number=)(?:%2B|\+)?(\d{8,15})", re.I
)


def _called(hrefs: list[str]) -> list[str]:
    """The numbers that links call or write to."""
    numbers = [unquote(number).strip() for scheme in ("tel:", "callto:", "sms:") for number in _behind(hrefs, scheme)]
    return numbers + ["+" + found.group(1) for href in hrefs if (found := CHAT_LINK.search(href))]


def _behind(hrefs: list[str], scheme: str) -> list[str]:
    return [href[len(scheme) :] for href in hrefs if href[: len(scheme)].lower() == scheme]


def read_page(
    html: str, url: str, at: str, region: str | None = None, html_bytes: int = 0, home: str | None = None
) -> PageFacts:
    """Read every fact that checks ask for out of one page.

    html: decoded source. url: its final address. at: ISO 8601 time of the fetch. region: ISO 3166 code in which national
    phone numbers are read, if that is known; home: the one to fall back on where the page does not tell either. html_bytes:
    size as transferred. Broken markup is read as browsers read it (HTML standard).
    """
    html, cut = bounded(html)
    tree = LexborHTMLParser(html)
    base = _base(tree, url)
    meta = _meta(tree)
    title, title_count = _title(tree)
    image_count, without_alt, image_nodes = _images(tree)
    scripts = scripts_in(tree)
    anchors, buttons = anchors_in(tree), buttons_in(tree)
    hrefs = [href for href, _ in anchors]
    objects, broken = read_blocks(scripts.json_ld)
    types = find_types(objects, [attribute(node, "itemtype") or "" for node in tree.css("[itemtype]")])
    app_root, protected = _empty_root(tree), _protected(tree, hrefs)
    subresources, headings = subresources_in(base, tree, image_nodes), _headings(tree)
    tags = find_tags([*scripts.sources, *scripts.inline, *traces_in(tree, image_nodes)], hrefs)
    loaded = loaded_by(base, scripts, image_nodes)

    declared = _language(tree, meta)
    markup = replace(read_markup(tree, base, meta), strange_frame=_strange_frame(tree, base))
    if not markup.contact_form and (framed := _framed_form(tree)):
        markup = replace(markup, contact_form=framed)
    items = find_items(objects, tree)

    lines = _visible(tree)  # from here on only what a visitor reads is left
    text = " ".join(lines.split())
    words = count_words(text)
    written_in = language_of(text, declared)
    region = region or region_of_page(host_of(url), declared, written_in, home)
    phones, phone_like = find_phones(lines, _called(hrefs), region)
    placeholder, placeholder_words = find_placeholder(title or "", text, words)
    spoken = frozenset({written_in, base_language(declared)})
    content = read_text(text, lines, markup, spoken)
    return PageFacts(
        url=url, at=at, title=title, title_count=title_count, description=meta.get("description"), viewport=meta.get("viewport"),
        language=declared, written_in=written_in, generator=meta.get("generator"),
        refresh_to=_refresh_target(base, meta.get("http:refresh")), headings=headings, images=image_count,
        images_without_alt=tuple(without_alt), words=words, text_start=text[:300], script_count=scripts.count, app_root=app_root,
        frames=_frames(tree, base), placeholder=placeholder, placeholder_snippet=placeholder_words,
        tags=(*tags, *loaded.hits), own_scripts=loaded.own, strangers=loaded.strangers, counting=loaded.counting,
        emails=find_emails(text, _behind(hrefs, "mailto:"), protected, scripts.inline),
        phones=phones, phone_like=phone_like, socials=find_socials(absolute(base, hrefs)),
        schema_types=types, schema_broken=broken, inner_links=inner_links(base, anchors), subresources=subresources,
        html_bytes=html_bytes or len(html), cut=cut, site_name=site_name(meta.get("og:site_name"), title, url),
        content=replace(content, items=items, actions=find_actions([*anchors, *buttons], base, spoken)),
    )  # fmt: skip
