"""What a page says and offers: forms, films, bookings, hours, people, and markup of another age."""

import re
from collections.abc import Iterable, Mapping
from dataclasses import replace

from selectolax.lexbor import LexborHTMLParser, LexborNode

from openacorn.core.audit.evidence import Found, PageContent
from openacorn.core.audit.extract.links import absolute
from openacorn.core.audit.extract.people import find_people

TEXT_CHARS, READ_CHARS = 8000, 200_000
SENTENCE_WORDS = 5
VIDEO_HOSTS = re.compile(
    r"youtube(?:-nocookie)?\.com/(?:embed|v)/|youtu\.be/|player\.vimeo\.com|fast\.wistia|dailymotion\.com/embed|loom\.com/embed",
    re.I,
)
ACTIONS: tuple[tuple[str, re.Pattern[str]], ...] = (
    (
        "booking",
        re.compile(
            r"\b(?:book|schedule|reserve|request)\b.{0,20}\b(?:now|online|time|appointment|visit|lesson|session|consultation|table|slot)\b"
            r"|\bbook (?:a|an|your)\b|\bonline booking|\bappointments? online|^book(?:ings?)?$|^book now$",
            re.I,
        ),
    ),
    (
        "shop",
        re.compile(
            r"\badd to (?:cart|basket|bag)\b|\bview (?:cart|basket)\b|^(?:cart|basket|checkout)$|\bshop (?:now|online)\b",
            re.I,
        ),
    ),
    ("privacy", re.compile(r"\bprivacy\b|\bdata protection\b", re.I)),
)  # fmt: skip
"""Words on links and buttons (common practice)."""

ACTION_PATHS = {
    "booking": re.compile(r"/book(?:ing|ings|-online|-now)?/?$", re.I),
    "privacy": re.compile(r"/privacy", re.I),
}
COPYRIGHT = re.compile(r"(?:©|\(c\)|copyright)\D{0,30}((?:19|20)\d\d)(?:\s*[-–—]\s*((?:19|20)\d\d))?", re.I)
HOURS = re.compile(
    r"\b(?:mon(?:day)?|tue(?:s|sday)?|wed(?:nesday)?|thu(?:r|rs|rsday)?|fri(?:day)?|sat(?:urday)?|sun(?:day)?)s?\b[^.]{0,40}?\b\d{1,2}(?:[:.]\d{2})?\s*(?:am|pm)?\s*(?:-|–|—|to|until)\s*\d{1,2}(?:[:.]\d{2})?\s*(?:am|pm)?",
    re.I,
)
DATED = ("font", "center", "marquee", "blink", "frameset", "big", "strike", "tt")
"""Elements that HTML5 made obsolete (HTML standard, "Obsolete features")."""

DATED_ATTRIBUTES = ("[bgcolor]", "body[background]", "table[background]")
FIXED_FROM_PX = 600
"""A layout fixed to at least this width cannot fit a phone held upright (about 360 to 430 px wide, common practice)."""

_WIDTH = re.compile(r"(?<![\w-])(?:min-)?width\s*:\s*(\d{3,4})px", re.I)
INSECURE = (
    "script[src], link[rel~=stylesheet][href], img[src], iframe[src], source[src], video[src], audio[src], form[action]"
)


def _snippet(node: LexborNode, most: int = 140) -> str:
    return " ".join((node.html or "").split())[:most]


def _insecure(tree: LexborHTMLParser, base: str) -> tuple[str, ...]:
    if not base.startswith("https://"):
        return ()
    found = []
    for node in tree.css(INSECURE):
        address = node.attributes.get("src") or node.attributes.get("href") or node.attributes.get("action") or ""
        if address.strip().lower().startswith("http://"):
            found.append(address.strip()[:160])
    return tuple(dict.fromkeys(found))


def _contact_form(tree: LexborHTMLParser) -> str:
    """A form with a place to write in, or that asks for an e-mail address and more than that (a newsletter asks no more)."""
    for form in tree.css("form"):
        fields = [
            node
            for node in form.css("input, textarea, select")
            if node.attributes.get("type") not in {"hidden", "submit", "search"}
        ]
        writes = form.css_first("textarea") is not None
        named = " ".join(
            f"{n.attributes.get('name')} {n.attributes.get('type')} {n.attributes.get('id')}" for n in fields
        ).lower()
        if writes or ("mail" in named and len(fields) >= 3):
            return _snippet(form)
    return ""


def _videos(tree: LexborHTMLParser) -> tuple[Found, ...]:
    found = []
    for node in tree.css("video, iframe[src], iframe[data-src]"):
        address = node.attributes.get("src") or node.attributes.get("data-src") or ""
        if node.tag == "video":
            source = node.css_first("source[src]")
            address = address or (source.attributes.get("src") or "" if source is not None else "")
            found.append(Found(address[:160], _snippet(node), "player"))
        elif VIDEO_HOSTS.search(address):
            found.append(Found(address[:160], _snippet(node), "embedded"))
    return tuple(found[:5])


def _actions(anchors: Iterable[tuple[str, str]], tree: LexborHTMLParser, base: str) -> tuple[Found, ...]:
    buttons = [
        ("", node.text() or node.attributes.get("value") or "") for node in tree.css("button, input[type=submit]")
    ]
    found: dict[str, Found] = {}
    for href, words in [*anchors, *buttons]:
        label = " ".join(words.split())[:80]
        for kind, pattern in ACTIONS:
            path = ACTION_PATHS.get(kind)
            if kind not in found and (pattern.search(label) or (path and path.search(href.split("?")[0]))):
                there = next(absolute(base, [href]), href)
                found[kind] = Found(label or href[:80], there[:160], kind)
    return tuple(found.values())


def _dated(tree: LexborHTMLParser) -> tuple[str, ...]:
    found = [_snippet(node, 60) for tag in DATED if (node := tree.css_first(tag)) is not None]
    found += [_snippet(node, 60) for selector in DATED_ATTRIBUTES if (node := tree.css_first(selector)) is not None]
    return tuple(found)


def _fixed(tree: LexborHTMLParser) -> tuple[int, str]:
    """(width in px, what fixes it) of the widest element that a layout hangs on."""
    best, how = 0, ""
    for node in tree.css("body > *, body > * > *, body > * > * > *"):
        if node.tag in {"img", "iframe", "video", "canvas", "svg", "script", "style"}:
            continue
        width = node.attributes.get("width") or ""
        style = _WIDTH.search(node.attributes.get("style") or "")
        px = int(width) if width.isdigit() and len(width) < 5 else int(style.group(1)) if style else 0
        if px > best:
            best, how = px, _snippet(node, 80)
    return (best, how) if best >= FIXED_FROM_PX else (0, "")


def read_markup(
    tree: LexborHTMLParser, base: str, anchors: list[tuple[str, str]], meta: Mapping[str, str]
) -> PageContent:
    """Read what stands in the markup, scripts and styles still in it. `anchors`: (href, text); `meta`: lower name → content."""
    canonical = tree.css_first("link[rel~=canonical][href]")
    fixed_px, fixed_by = _fixed(tree)
    return PageContent(
        robots=" ".join(filter(None, (meta.get("robots"), meta.get("googlebot")))).lower(),
        canonical=next(absolute(base, [canonical.attributes.get("href")]), None) if canonical is not None else None,
        insecure=_insecure(tree, base),
        contact_form=_contact_form(tree),
        videos=_videos(tree),
        actions=_actions(anchors, tree, base),
        dated=_dated(tree),
        fixed_px=fixed_px,
        fixed_by=fixed_by,
    )


def _prose(lines: str) -> str:
    """The pieces that are sentences: some words long, and with an end."""
    pieces = (" ".join(line.split()) for line in lines.splitlines())
    sentences = [piece for piece in pieces if piece[-1:] in ".!?…" and piece.count(" ") >= SENTENCE_WORDS - 1]
    return " ".join(sentences)[:TEXT_CHARS]


def read_text(text: str, lines: str, markup: PageContent) -> PageContent:
    """Add what stands in the visible text; `lines` is the same, every piece of it on a line of its own."""
    marks = list(COPYRIGHT.finditer(text[-READ_CHARS:]))
    last = max(marks, key=lambda mark: int(mark.group(2) or mark.group(1)), default=None)
    hours = HOURS.search(text[:READ_CHARS])
    return replace(
        markup,
        text=text[:TEXT_CHARS],
        copyright_year=int(last.group(2) or last.group(1)) if last else None,
        copyright_words=" ".join(last.group(0).split()) if last else "",
        hours=" ".join(hours.group(0).split()) if hours else "",
        people=find_people(lines[:READ_CHARS]),
        prose=_prose(lines[:READ_CHARS]),
    )
