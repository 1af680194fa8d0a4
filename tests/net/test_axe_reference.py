"""Alternative texts and the page's language, as axe-core finds them in a browser (rules image-alt, html-has-lang, html-lang-valid)."""

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from tests.core.audit.reading import REFERENCES, judged, page
from tests.web.screen import start_browser

pytestmark = pytest.mark.browser
AXE = Path(__file__).resolve().parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
RULES = ["image-alt", "html-has-lang", "html-lang-valid"]
DOT = "data:image/gif;base64,R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7"


def _image(attributes: str) -> str:
    return f'<html lang="en"><title>x</title><body><p>Kind care.</p><img src="{DOT}" style="width:9em" {attributes}></body></html>'


PAGES = {
    "alt": _image('alt="A cat"'),
    "none": _image(""),
    "empty": _image('alt=""'),
    "aria-label": _image('aria-label="A cat"'),
    "presentation": _image('role="presentation"'),
    "hidden": _image('aria-hidden="true"'),
    "title": _image('title="A cat"'),
    "spaces": _image('alt="  "'),
    "no language": "<html><title>x</title><body><p>Kind care.</p></body></html>",
    "language": '<html lang="de-AT"><title>x</title><body><p>Kind care.</p></body></html>',
    "empty language": '<html lang=""><title>x</title><body><p>Kind care.</p></body></html>',
    "no tag": '<html lang="English please"><title>x</title><body><p>Kind care.</p></body></html>',
} | {
    name: (REFERENCES / name).read_text(encoding="utf-8")
    for name in (
        "startbootstrap-agency/dist/index.html", "startbootstrap-creative/dist/index.html",
        "startbootstrap-freelancer/dist/index.html", "startbootstrap-business-casual/dist/index.html",
        "startbootstrap-clean-blog/dist/index.html", "html5-boilerplate/dist/index.html",
    )
}  # fmt: skip


@pytest.fixture(scope="module")
def browser() -> Iterator[Any]:
    started = start_browser()
    yield started
    started.quit()


def _violations(browser: Any, html: str, folder: Path) -> dict[str, int]:
    """Rule → elements that break it."""
    (folder / "page.html").write_text(html, encoding="utf-8")
    browser.get(f"file://{folder / 'page.html'}")
    browser.execute_script(AXE.read_text(encoding="utf-8"))
    found = browser.execute_async_script(
        "const [rules, done] = arguments;"
        "axe.run({runOnly: rules}).then(r => done(r.violations.map(v => [v.id, v.nodes.length])), e => done([[String(e), 1]]))",
        RULES,
    )
    return dict(found)


@pytest.mark.parametrize("name", PAGES)
def test_alternative_texts_and_language_agree_with_axe(browser: Any, tmp_path: Path, name: str) -> None:
    html = PAGES[name]
    broken = _violations(browser, html, tmp_path)
    assert broken.keys() <= set(RULES)
    assert len(page(html).images_without_alt) == broken.get("image-alt", 0)
    language = str(judged(html)["language"].outcome)
    assert (language == "gap") == ("html-has-lang" in broken)
    assert (language == "partial") == ("html-lang-valid" in broken)
