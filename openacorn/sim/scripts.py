"""What the simulated websites' scripts, styles and pictures hold: enough for a browser to show them."""

import json
import struct
import zlib
from functools import lru_cache

from openacorn.sim.site import Site

CONTAINER_HOST = "www.googletagmanager.com"
LOADER = "(function(u){var s=document.createElement('script');s.async=true;s.src=u;document.head.appendChild(s)})"
STYLE = b"""body{font:16px/1.5 Georgia,serif;margin:0 auto;padding:0 16px;color:#222;background:#fdfcf8}h1{font-size:28px}
nav a{margin-right:12px}img{max-width:100%;height:auto}section{margin:24px 0}footer{border-top:1px solid #ccc;padding:16px 0}"""


def hidden_tags(site: Site) -> str:
    """A script that brings in the tags which the page's source does not show."""
    found = []
    if site.hidden_analytics:
        found.append(f"{LOADER}('https://{CONTAINER_HOST}/gtag/js?id=G-{site.seed:06d}QX');")
    if site.hidden_pixel:
        found.append(f"{LOADER}('https://connect.facebook.net/en_US/fbevents.js');")
    return "".join(found)


SHELLS = (
    ('<div id="root"></div>', "#root"), ('<div id="app"></div>', "#app"), ('<div id="__next"></div>', "#__next"),
    ('<div id="__nuxt"></div>', "#__nuxt"), ("<app-root>Loading…</app-root>", "app-root"), ('<div id="svelte"></div>', "#svelte"),
    ('<div id="___gatsby"></div>', "#___gatsby"), ('<div id="q-app"></div>', "#q-app"),
)  # fmt: skip
"""The empty element that a page's script fills, as eight front-end frameworks name it, and its selector."""


def application(site: Site, body: str) -> bytes:
    """The bundle of a page that a script builds: it fills the empty element, then brings in the tags."""
    selector = SHELLS[site.seed % len(SHELLS)][1]
    return f"document.querySelector('{selector}').innerHTML={json.dumps(body)};{hidden_tags(site)}".encode()


def padded(body: bytes, size: int, filling: bytes = b" ") -> bytes:
    """A file of a wanted size that means what its beginning says."""
    return body + filling * (size - len(body))


@lru_cache(maxsize=256)
def picture(tone: int) -> bytes:
    """A small PNG in one of 256 tones."""
    rows = b"".join(
        b"\0" + bytes((90 + tone % 120, 110 + (tone * 7 + y * 3) % 110, 120 + (tone * 13) % 90)) * 24 for y in range(16)
    )
    head = struct.pack(">IIBBBBB", 24, 16, 8, 2, 0, 0, 0)
    parts = ((b"IHDR", head), (b"IDAT", zlib.compress(rows)), (b"IEND", b""))
    chunks = (
        struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data)) for kind, data in parts
    )
    return b"\x89PNG\r\n\x1a\n" + b"".join(chunks)
