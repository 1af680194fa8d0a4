"""Websites as files: small, valid, readable, safe from what is put in, and like no other theme of ours."""

import html
import io
import json
import re
import subprocess
from dataclasses import replace
from pathlib import Path
from xml.etree import ElementTree

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from selectolax.lexbor import LexborHTMLParser

from openacorn.core.report.letterhead import READABLE, contrast
from openacorn.core.starter.colours import SETS, colour_set, leading_hue
from openacorn.core.starter.draft import PAGES, Paragraph, Section, SiteDraft
from openacorn.core.starter.outline import propose
from openacorn.core.starter.render import RenderOptions, SitePicture, render_site
from openacorn.core.starter.themes import all_themes
from tests.core.starter.test_drafts import FACTS

REFERENCES = Path(__file__).resolve().parents[2] / "references" / "node_modules"
MOST_BYTES = 100_000
PICTURES = tuple(
    SitePicture(str(number), (480, 960), 320, 'A "boat" & its <owner>' if number else "") for number in range(5)
)
OPTIONS = RenderOptions(2026, base="https://saltmarsh.example/")


def plain_png(colour: tuple[int, int, int]) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (60, 40), colour).save(out, "PNG")
    return out.getvalue()


def draft(**more: object) -> SiteDraft:
    return replace(SiteDraft(FACTS, propose(FACTS, (), "food"), "hearth", "light"), **more)  # type: ignore[arg-type]


def test_every_theme_in_every_colour_is_small_and_conforms(tmp_path: Path) -> None:
    """html-validate 9 of npm, its rules for the standard and for accessibility."""
    looks = set()
    for theme in all_themes():
        for colours in SETS:
            files = render_site(draft(theme=theme.id, colours=colours), replace(OPTIONS, pictures=PICTURES))
            assert sum(map(len, files.values())) <= MOST_BYTES
            looks.add(files["style.css"])
            for name, body in files.items():
                folder = tmp_path / f"{theme.id}-{colours}"
                folder.mkdir(exist_ok=True)
                (folder / name).write_bytes(body)
    assert len(looks) == len(all_themes()) * len(SETS) >= 30
    tool = REFERENCES / ".bin" / "html-validate"
    for preset in ("standard", "a11y"):
        found = subprocess.run(
            [tool, "--preset", preset, *map(str, tmp_path.rglob("*.html"))], capture_output=True, text=True, check=False
        )
        assert (found.returncode, found.stdout) == (0, ""), found.stdout[:3000] + found.stderr[:500]


def test_nothing_is_run_and_nothing_comes_from_elsewhere() -> None:
    files = render_site(draft(), OPTIONS)
    links = set()
    for page in PAGES:
        tree = LexborHTMLParser(files["index.html" if page == "home" else f"{page}.html"].decode())
        assert [node.attributes.get("type") for node in tree.css("script")] == (
            ["application/ld+json"] if page == "home" else []
        )
        for node in tree.css("[src], link[href], [srcset]"):
            address = node.attributes.get("src") or node.attributes.get("href") or ""
            assert not re.match(r"(?:https?:)?//", address) or node.attributes.get("rel") == "canonical"
        links |= {node.attributes.get("href") or "" for node in tree.css("a[href$='.html'], link[href]")}
        assert len(tree.css("h1")) == 1
        assert tree.css_first("meta[name=viewport]") is not None
    assert {link for link in links if not link.startswith("http")} <= set(files)
    assert "url(" not in files["style.css"].decode()
    schema = json.loads(LexborHTMLParser(files["index.html"].decode()).css("script")[0].text())
    assert (schema["@type"], schema["name"], schema["openingHours"]) == (
        "FoodEstablishment",
        FACTS.name,
        ["Mo-Fr 07:00-17:00"],
    )
    urls = [node.text for node in ElementTree.fromstring(files["sitemap.xml"]).iter() if node.tag.endswith("loc")]
    assert len(urls) == len(PAGES)
    assert "Sitemap: https://saltmarsh.example/sitemap.xml" in files["robots.txt"].decode()


def test_questions_stay_with_the_agency_and_the_owner() -> None:
    asked = render_site(draft(), OPTIONS)["services.html"].decode()
    final = render_site(draft(), replace(OPTIONS, asks=False))["services.html"].decode()
    assert "Which services do you offer" in asked
    assert "Which services do you offer" not in final
    assert "To be asked" not in final


@given(st.text(max_size=80), st.text(max_size=60), st.sampled_from(["en", "ar", "he", "de", "zh", ""]))
def test_whatever_is_put_in_stays_text(words: str, name: str, language: str) -> None:
    tricky = f"{words}</script><script>alert(1)</script>\"'><img src=x onerror=alert(1)>{{{{7*7}}}}"
    facts = replace(FACTS, name=f"{name}{tricky}", town=tricky, description=tricky, language=language)
    section = Section("about", "about", "text", tricky, (Paragraph(tricky, "website", "x", tricky),))
    files = render_site(draft(facts=facts, sections=(*propose(facts, (), "food"), section)), OPTIONS)
    for page in PAGES:
        text = files["index.html" if page == "home" else f"{page}.html"].decode()
        tree = LexborHTMLParser(text)
        assert len(tree.css("script")) == (1 if page == "home" else 0)
        assert tree.css("[onerror]") == []
        assert "{{7*7}}" in html.unescape(text)
        assert tree.css("html")[0].attributes.get("dir") == ("rtl" if language in {"ar", "he"} else None)
    schema = json.loads(LexborHTMLParser(files["index.html"].decode()).css("script")[0].text())
    assert schema["name"] == facts.name


@pytest.mark.parametrize(
    ("one", "two", "ratio"), [("#767676", "#ffffff", 4.54), ("#777777", "#ffffff", 4.48), ("#000000", "#ffffff", 21)]
)
def test_contrast_is_that_of_the_guidelines(one: str, two: str, ratio: float) -> None:
    """WCAG 2.2: black on white is 21; the greys at the border of AA are those of its understanding documents."""
    assert contrast(one, two) == pytest.approx(ratio, abs=0.01)


@given(st.floats(0, 1), st.sampled_from(SETS))
def test_every_colour_of_every_set_can_be_read(hue: float, name: str) -> None:
    found = colour_set(name, hue)
    for text, ground in ((found.ink, found.paper), (found.ink, found.soft), (found.accent, found.paper), (found.accent, found.soft),
                         (found.on_accent, found.accent), (found.on_band, found.band)):  # fmt: skip
        assert contrast(text, ground) >= READABLE, (text, ground)


def test_the_hue_of_a_picture_leads() -> None:
    red, grey = plain_png((200, 30, 40)), plain_png((120, 120, 120))
    hue = leading_hue(red)
    assert hue is not None
    assert min(hue, 1 - hue) < 0.06
    assert leading_hue(grey) is None
    assert leading_hue(b"no picture") is None
