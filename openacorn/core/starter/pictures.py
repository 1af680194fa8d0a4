"""Pictures of an old website: which ones its pages show, and what is made of one for a new website."""

import io
import re
from collections.abc import Iterator
from dataclasses import dataclass
from urllib.parse import urljoin, urlsplit

from PIL import Image, ImageOps, UnidentifiedImageError
from selectolax.lexbor import LexborHTMLParser, LexborNode

WIDTHS = (480, 960, 1600)
"""Pixels: a phone's column, that of a phone with a dense screen or of a desktop, a whole desktop."""

FORMS = {"avif": {"quality": 55, "speed": 8}, "webp": {"quality": 78, "method": 4}}
LEAST_PX = (320, 200)
MOST_PX = 50_000_000
"""Pixels of a picture that is opened: beyond that it is a bomb, or a poster."""

MOST_FOUND = 60
LONGEST_ALT = 160
READ = ("JPEG", "PNG", "WEBP", "GIF", "AVIF")
LAZY = ("data-src", "data-lazy-src", "data-original", "data-srcset", "srcset", "src")
"""Attributes that hold a picture's address, the best first: pages that load late leave a placeholder in `src`."""

_NO_PICTURE = re.compile(
    r"\.svgz?(?:$|\?)|sprite|spacer|pixel|blank\.|/badge|icon[-_.]|favicon|emoji|loader|spinner|captcha", re.I
)
_LOGO = re.compile(r"logo|brand|wordmark|signet", re.I)
_SPACE = re.compile(r"\s+")


class PictureError(ValueError):
    """What was fetched cannot be used; the message says why."""


@dataclass(frozen=True, slots=True)
class FoundPicture:
    """A picture that a page shows. alt: what the page says it shows; page: its address; logo: is it likely the business's logo?"""

    url: str
    alt: str
    page: str
    logo: bool = False


@dataclass(frozen=True, slots=True)
class PreparedPicture:
    """A picture in several widths. width, height: of the widest; files: (width, form) → file, without what cameras note."""

    width: int
    height: int
    files: dict[tuple[int, str], bytes]

    @property
    def widths(self) -> tuple[int, ...]:
        """In rising order."""
        return tuple(sorted({width for width, _ in self.files}))


def _address(node: LexborNode) -> str:
    """The address of an <img>, the widest where several are named."""
    for name in LAZY:
        text = (node.attributes.get(name) or "").strip()
        if not text or text.startswith("data:"):
            continue
        if not name.endswith("srcset"):
            return text
        entries = [entry.split() for entry in re.split(r",\s+", text) if entry.strip()]
        sized = [
            (float(entry[1][:-1]), entry[0])
            for entry in entries
            if len(entry) > 1 and re.fullmatch(r"[\d.]+[wx]", entry[1])
        ]
        if entries:
            return max(sized)[1] if sized else entries[0][0]
    return ""


def _joined(start: str, address: str) -> str:
    """A whole web address, "" for what is none."""
    try:
        parts = urlsplit(urljoin(start, address) if address else "")
    except ValueError:
        return ""
    return parts._replace(fragment="").geturl() if parts.scheme in {"http", "https"} and parts.hostname else ""


def _small(node: LexborNode) -> bool:
    """Does the page itself say that it is too small?"""
    sides = [(node.attributes.get(side) or "").removesuffix("px") for side in ("width", "height")]
    return any(text.isdecimal() and int(text) < 120 for text in sides)


def _said(node: LexborNode) -> str:
    """What it shows: its text for those who cannot see it, else the caption below it."""
    if alt := _SPACE.sub(" ", node.attributes.get("alt") or "").strip():
        return alt[:LONGEST_ALT]
    figure = node.parent
    for _ in range(3):
        if figure is None or figure.tag == "figure":
            break
        figure = figure.parent
    caption = figure.css_first("figcaption") if figure is not None and figure.tag == "figure" else None
    return _SPACE.sub(" ", caption.text()).strip()[:LONGEST_ALT] if caption is not None else ""


def _is_logo(node: LexborNode, address: str) -> bool:
    marks = (node.attributes.get(name) or "" for name in ("class", "id", "alt"))
    return any(_LOGO.search(mark) for mark in (*marks, urlsplit(address).path.rpartition("/")[2]))


def _pictures(html: str, page: str) -> Iterator[FoundPicture]:
    tree = LexborHTMLParser(html)
    base = tree.css_first("base[href]")
    start = (_joined(page, base.attributes.get("href") or "") if base is not None else "") or page
    for node in tree.css("img"):
        url = _joined(start, _address(node))
        if not url or _NO_PICTURE.search(url):
            continue
        logo = _is_logo(node, url)
        if logo or not _small(node):
            yield FoundPicture(url, _said(node), page, logo)


def find_pictures(pages: list[tuple[str, str]]) -> list[FoundPicture]:
    """Pictures of pages given as (address, HTML): each address once, logos first, at most MOST_FOUND."""
    found: dict[str, FoundPicture] = {}
    for page, html in pages:
        for picture in _pictures(html, page):
            if picture.url not in found or (picture.alt and not found[picture.url].alt):
                found[picture.url] = picture
    return sorted(found.values(), key=lambda picture: not picture.logo)[:MOST_FOUND]


def _opened(body: bytes) -> Image.Image:
    """A picture, upright, with its colours plain. Raises PictureError."""
    try:
        with Image.open(io.BytesIO(body), formats=READ) as opened:
            if opened.width * opened.height <= MOST_PX:
                upright = ImageOps.exif_transpose(opened)
                return upright.convert("RGBA" if "A" in upright.getbands() or "transparency" in upright.info else "RGB")
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise PictureError("it cannot be read as JPEG, PNG, WebP, GIF or AVIF") from error
    raise PictureError(f"it has more than {MOST_PX // 1_000_000} million pixels")


def prepare(body: bytes) -> PreparedPicture:
    """What a website needs of a picture: WIDTHS that it has, as AVIF and WebP. Raises PictureError."""
    picture = _opened(body)
    if picture.width < LEAST_PX[0] or picture.height < LEAST_PX[1]:
        raise PictureError(
            f"it has {picture.width} × {picture.height} pixels, fewer than {LEAST_PX[0]} × {LEAST_PX[1]}"
        )
    widths = [width for width in WIDTHS if width < picture.width]
    if len(widths) < len(WIDTHS):
        widths.append(picture.width)
    files: dict[tuple[int, str], bytes] = {}
    for width in widths:
        sized = picture.resize((width, max(1, round(picture.height * width / picture.width))), Image.Resampling.LANCZOS)
        for form, options in FORMS.items():
            out = io.BytesIO()
            sized.save(out, form.upper(), **options)
            files[width, form] = out.getvalue()
    return PreparedPicture(widths[-1], round(picture.height * widths[-1] / picture.width), files)
