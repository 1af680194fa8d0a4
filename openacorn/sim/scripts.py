"""What the simulated websites' scripts, styles and pictures hold: enough for a browser to show them."""

import io
import json
from colorsys import hls_to_rgb
from functools import lru_cache
from random import Random

from PIL import Image, ImageDraw

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


MOODS = 64


@lru_cache(maxsize=MOODS)
def picture(mood: int) -> bytes:
    """A view of the coast in one of MOODS, as a PNG of some 3 kB: sky, sun, hills, the sea, a boat."""
    wide, high = 720, 480
    rng = Random(mood)
    # (part of the colour circle away from the mood's own, lightness, saturation)
    shades = ((0, 0.82, 0.45), (0.12, 0.9, 0.8), (0, 0.62, 0.45), (0.04, 0.51, 0.45), (0.08, 0.4, 0.45), (0.06, 0.34, 0.45),
              (0.06, 0.44, 0.45), (0.5, 0.24, 0.6), (0.5, 0.95, 0.45))  # fmt: skip
    sky, sun, hill, _, _, sea, wave, hull, sail = range(len(shades))
    view = Image.new("P", (wide, high), sky)
    view.putpalette(
        [round(part * 255) for shift, *rest in shades for part in hls_to_rgb((mood / MOODS + shift) % 1, *rest)]
    )
    pen = ImageDraw.Draw(view)
    x, y, r = rng.randint(80, wide - 80), rng.randint(60, 170), rng.randint(28, 52)
    pen.ellipse((x - r, y - r, x + r, y + r), fill=sun)
    for layer in range(3):
        tops = [(at, 210 + layer * 34 - rng.randint(10, 80 - layer * 18)) for at in range(0, wide + 90, 90)]
        pen.polygon([(0, high), *tops, (wide, high)], fill=hill + layer)
    pen.rectangle((0, 310, wide, high), fill=sea)
    for row in range(326, high, 22):
        pen.line((rng.randint(0, 200), row, rng.randint(300, wide), row), fill=wave, width=3)
    at = rng.randint(120, wide - 160)
    pen.polygon([(at, 372), (at + 96, 372), (at + 78, 396), (at + 16, 396)], fill=hull)
    pen.polygon([(at + 46, 366), (at + 46, 262), (at + 98, 366)], fill=sail)
    out = io.BytesIO()
    view.save(out, "PNG")
    return out.getvalue()
