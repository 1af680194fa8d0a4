"""What a page says and offers: forms, films, bookings, hours, people, and markup of another age."""

import re
from collections.abc import Iterable, Mapping
from dataclasses import replace
from functools import lru_cache

from selectolax.lexbor import LexborHTMLParser

from openacorn.core.audit.evidence import Found, PageContent
from openacorn.core.audit.extract.forms import contact_form
from openacorn.core.audit.extract.hours import find_hours
from openacorn.core.audit.extract.links import LABEL_CHARS, absolute
from openacorn.core.audit.extract.nodes import snippet
from openacorn.core.audit.extract.people import find_people
from openacorn.core.audit.extract.videos import find_videos
from openacorn.core.audit.extract.vocabulary import says, words_of

TEXT_CHARS, READ_CHARS = 8000, 200_000
SENTENCE_WORDS = 5
BRIEF_CHARS, BRIEF_WORDS = 50, 5
"""What to book or buy by says so briefly; longer texts of links tell of something."""

ACTION_KINDS = ("booking", "shop", "privacy")
ACTION_PATHS = {
    "booking": re.compile(
        r"/(?:book(?:ing|ings|-online|-now)|buchung|reservierung|reservation|reserva|prenota|rezerwacja|rezervace|bron)/?$",
        re.I,
    ),
    "privacy": re.compile(
        r"/(?:privacy|datenschutz|confidentialite|privacidad|privacidade|personuppgifter|tietosuoja|polityka-prywatnosci|gizlilik)",
        re.I,
    ),
    "shop": re.compile(
        r"/(?:cart|basket|checkout|warenkorb|panier|carrito|carrello|winkelwagen|koszyk|kosik|varukorg|kurv|sepet|korzina|ostoskori)(?:[/.?]|$)",
        re.I,
    ),
}
COPYRIGHT = re.compile(r"(?:©|\(c\)|copyright)\D{0,30}((?:19|20)\d\d)(?:\s*[-–—]\s*((?:19|20)\d\d))?", re.I)
COOKIES = re.compile(
    r"\bcookies?\b|\bkakor\b|evästei|ciastecz|\bsütik?\b|çerez|бисквитк|куки|クッキー|쿠키|الكوكيز|ملفات تعريف", re.I
)
"""What a banner that asks first would name; so does a privacy page, which is why it never decides."""

DATED = ("font", "center", "marquee", "blink", "frameset", "big", "strike", "tt")
"""Elements that HTML5 made obsolete (HTML standard, "Obsolete features")."""

DATED_ATTRIBUTES = ("[bgcolor]", "body[background]", "table[background]")
FIXED_FROM_PX = 600
"""A layout fixed to at least this width cannot fit a phone held upright (about 360 to 430 px wide, common practice)."""

_WIDTH = re.compile(r"(?<![\w-])(?:min-)?width\s*:\s*(\d{3,4})px", re.I)
INSECURE = (
    "script[src], link[rel~=stylesheet][href], img[src], iframe[src], source[src], video[src], audio[src], form[action]"
)


def _insecure(tree: LexborHTMLParser, base: str) -> tuple[str, ...]:
    if not base.startswith("https://"):
        return ()
    found = []
    for node in tree.css(INSECURE):
        address = node.attributes.get("src") or node.attributes.get("href") or node.attributes.get("action") or ""
        if address.strip().lower().startswith("http://"):
            found.append(address.strip()[:160])
    return tuple(dict.fromkeys(found))


@lru_cache(maxsize=8192)
def _said(label: str, codes: frozenset[str]) -> frozenset[str]:
    """Kinds of action that a link or button is by its words or by its whole label. A site's pages carry the same ones."""
    found, whole = [], label.strip(" .:»›>→-!()0123456789").lower()
    for kind in ACTION_KINDS:
        long = kind == "privacy"  # its word says what the link is, however much stands beside it
        brief = 0 < len(label) <= (LABEL_CHARS if long else BRIEF_CHARS) and (long or label.count(" ") < BRIEF_WORDS)
        if brief and (says(kind, label, codes) or whole in words_of(f"{kind}_label", codes)):
            found.append(kind)
    return frozenset(found)


@lru_cache(maxsize=8192)
def _led_to(address: str) -> frozenset[str]:
    """Kinds of action that a link is by its address."""
    path = address.split("?")[0]
    return frozenset(kind for kind in ACTION_KINDS if ACTION_PATHS[kind].search(path))


def find_actions(anchors: Iterable[tuple[str, str]], base: str, spoken: frozenset[str]) -> tuple[Found, ...]:
    """Return the first link or button of each kind. anchors: (address, what it says). spoken: languages of the page (ISO 639-1);
    English words count on any page."""
    found: dict[str, Found] = {}
    codes = spoken | {"en"}
    for href, label in anchors:
        kinds = _said(label, codes) | _led_to(href)
        for kind in ACTION_KINDS if kinds else ():
            if kind in kinds and kind not in found:
                there = next(absolute(base, [href]), href)
                found[kind] = Found(label[:80] or href[:80], there[:160], kind)
    return tuple(found.values())


def _dated(tree: LexborHTMLParser) -> tuple[str, ...]:
    found = [snippet(node, 60) for tag in DATED if (node := tree.css_first(tag)) is not None]
    found += [snippet(node, 60) for selector in DATED_ATTRIBUTES if (node := tree.css_first(selector)) is not None]
    return tuple(found)


def _fixed(tree: LexborHTMLParser) -> tuple[int, str]:
    """(width in px, what fixes it) of the widest element that decides the layout's width."""
    best, how = 0, ""
    for node in tree.css("body > *, body > * > *, body > * > * > *"):
        if node.tag in {"img", "iframe", "video", "canvas", "svg", "script", "style"}:
            continue
        width = node.attributes.get("width") or ""
        style = _WIDTH.search(node.attributes.get("style") or "")
        px = int(width) if width.isdigit() and len(width) < 5 else int(style.group(1)) if style else 0
        if px > best:
            best, how = px, snippet(node, 80)
    return (best, how) if best >= FIXED_FROM_PX else (0, "")


def read_markup(tree: LexborHTMLParser, base: str, meta: Mapping[str, str]) -> PageContent:
    """Read the markup, with scripts and styles still in it. `meta`: lower name → content."""
    canonical = tree.css_first("link[rel~=canonical][href]")
    fixed_px, fixed_by = _fixed(tree)
    form, perhaps = contact_form(tree)
    return PageContent(
        robots=" ".join(filter(None, (meta.get("robots"), meta.get("googlebot")))).lower(),
        canonical=next(absolute(base, [canonical.attributes.get("href")]), None) if canonical is not None else None,
        insecure=_insecure(tree, base),
        contact_form=form,
        form_perhaps=perhaps,
        videos=find_videos(tree),
        dated=_dated(tree),
        fixed_px=fixed_px,
        fixed_by=fixed_by,
    )


def _prose(lines: str) -> str:
    """The pieces that are sentences: some words long, and with an end."""
    ends = (line for line in map(str.rstrip, lines.splitlines()) if line.endswith((".", "!", "?", "…")))
    pieces = (" ".join(line.split()) for line in ends)
    return " ".join(piece for piece in pieces if piece.count(" ") >= SENTENCE_WORDS - 1)[:TEXT_CHARS]


def read_text(text: str, lines: str, markup: PageContent, spoken: frozenset[str]) -> PageContent:
    """Add what the visible text holds; `lines` is the same, every piece of it on a line of its own. spoken: ISO 639-1
    codes of its languages."""
    marks = list(COPYRIGHT.finditer(text[-READ_CHARS:]))
    last = max(marks, key=lambda mark: int(mark.group(2) or mark.group(1)), default=None)
    cookies = COOKIES.search(text[:READ_CHARS])
    return replace(
        markup,
        text=text[:TEXT_CHARS],
        copyright_year=int(last.group(2) or last.group(1)) if last else None,
        copyright_words=" ".join(last.group(0).split()) if last else "",
        hours=find_hours(text, spoken),
        cookie_words=text[max(0, cookies.start() - 60) : cookies.end() + 60] if cookies else "",
        people=find_people(lines[:READ_CHARS]),
        prose=_prose(lines[:READ_CHARS]),
    )
