"""Colours of a website from one hue: three sets, each readable by the contrast that WCAG 2.2 asks for."""

import colorsys
import io
from dataclasses import dataclass

from PIL import Image, UnidentifiedImageError

from openacorn.core.report.letterhead import READABLE, contrast

SETS = ("light", "tinted", "deep")
SAMPLE_PX = 96
LEAST_SATURATION, LEAST_VALUE = 0.25, 0.2


@dataclass(frozen=True, slots=True)
class Colours:
    """CSS colours. paper, ink: background and text; soft: a second background; accent: links, buttons; on_accent: text on it;
    band, on_band: the strip that a page begins and ends with."""

    paper: str
    ink: str
    soft: str
    accent: str
    on_accent: str
    band: str
    on_band: str


def _hex(hue: float, saturation: float, lightness: float) -> str:
    return "#" + "".join(f"{round(part * 255):02x}" for part in colorsys.hls_to_rgb(hue, lightness, saturation))


def _readable_on(paper: str, hue: float, saturation: float) -> str:
    """The lightest colour of a hue that can be read on a light paper."""
    for step in range(55, 5, -1):
        found = _hex(hue, saturation, step / 100)
        if contrast(found, paper) >= READABLE + 0.3:
            return found
    return "#111111"


def colour_set(name: str, hue: float) -> Colours:
    """One of SETS. hue: 0…1."""
    if name == "deep":
        paper, soft, ink = _hex(hue, 0.35, 0.12), _hex(hue, 0.3, 0.18), "#f6f4ef"
        accent = next(
            found for step in range(50, 100) if contrast(found := _hex(hue, 0.7, step / 100), soft) >= READABLE + 0.3
        )
        return Colours(paper, ink, soft, accent, paper, _hex(hue, 0.4, 0.08), ink)
    paper = "#ffffff" if name == "light" else _hex(hue, 0.45, 0.965)
    soft = _hex(hue, 0.3, 0.955 if name == "light" else 0.915)
    accent = _readable_on(soft, hue, 0.6)
    ink = _hex(hue, 0.25, 0.13)
    band = _hex(hue, 0.5, 0.17) if name == "light" else soft
    return Colours(paper, ink, soft, accent, "#ffffff", band, "#ffffff" if name == "light" else ink)


def leading_hue(picture: bytes) -> float | None:
    """The hue (0…1) that a picture has most of among its lively colours; None for one without, or that cannot be read."""
    try:
        with Image.open(io.BytesIO(picture)) as opened:
            small = opened.convert("RGB").resize((SAMPLE_PX, SAMPLE_PX))
    except (UnidentifiedImageError, OSError, ValueError, Image.DecompressionBombError):
        return None
    weight = [0.0] * 36
    for count, pixel in small.getcolors(SAMPLE_PX * SAMPLE_PX) or []:
        hue, saturation, value = colorsys.rgb_to_hsv(*(part / 255 for part in pixel))  # type: ignore[union-attr]
        if saturation >= LEAST_SATURATION and value >= LEAST_VALUE:
            weight[int(hue * 36) % 36] += count * saturation
    best = max(range(36), key=lambda at: weight[at])
    return (best + 0.5) / 36 if weight[best] > SAMPLE_PX else None
