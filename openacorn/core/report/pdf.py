"""HTML to PDF. Nothing is fetched: fonts and pictures are handed over."""

import contextlib
import io
import logging
from collections.abc import Mapping
from functools import cache
from importlib import resources
from typing import Any

from openacorn.errors import NotPossibleHere


class NoPdf(NotPossibleHere):
    """PDFs cannot be made here; the message says what is missing."""

    where = "pdf"
    remedy = "install Pango (Debian: libpango-1.0-0 and libpangoft2-1.0-0), or print the page from a browser"


logging.getLogger("weasyprint").setLevel(logging.ERROR)  # it warns of every rule that is meant for browsers alone

BASE = "https://page.invalid/"
"""What paths in the page are relative to; no such host can be (RFC 2606)."""

FONTS = ("literata-latin", "literata-latin-ext", "commissioner-latin", "commissioner-latin-ext")


@cache
def font(name: str) -> bytes | None:
    """A font that ships, as WOFF2; None for an unknown name."""
    if name not in FONTS:
        return None
    return resources.files("openacorn").joinpath(f"data/fonts/{name}.woff2").read_bytes()


@cache
def _unpacked(name: str) -> bytes:
    """A font as TrueType: unpacking it again for every PDF took two fifths of the time."""
    body = font(name)
    if body is None:
        raise ValueError(f"nothing is fetched for a PDF, also not {name}")
    from fontTools.ttLib import TTFont

    out = io.BytesIO()
    unpacked = TTFont(io.BytesIO(body))
    unpacked.flavor = None
    unpacked.save(out)
    return out.getvalue()


def to_pdf(html: str, files: Mapping[str, tuple[str, bytes]] | None = None) -> bytes:
    """A page as PDF. files: path in the page → (media type, content). Raises NoPdf where the libraries for it are missing."""
    try:
        from weasyprint import HTML
        from weasyprint.urls import URLFetcher, URLFetcherResponse
    except OSError as error:  # pango is not a Python package
        raise NoPdf(f"PDFs need the library Pango, which this machine lacks ({error})") from None

    class Handing(URLFetcher):  # type: ignore[misc]
        """Hands over what it was given, and asks nobody for anything else."""

        def fetch(self, url: str, headers: Any = None) -> Any:  # noqa: ARG002 - the interface's
            given = (files or {}).get(url.removeprefix(BASE.rstrip("/")))
            name = url.removeprefix(f"{BASE}o/fonts/").removesuffix(".woff2")
            kind, body = given or ("font/ttf", _unpacked(name))
            return URLFetcherResponse(url, body, {"Content-Type": kind})

    return bytes(HTML(string=html, base_url=BASE, url_fetcher=Handing()).write_pdf())


@cache
def warm() -> None:
    """Load what the first PDF of a process would otherwise wait for; nothing where PDFs cannot be made."""
    for name in FONTS:
        _unpacked(name)
    with contextlib.suppress(NoPdf):
        to_pdf("<p>x</p>")
