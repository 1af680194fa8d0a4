"""The detectors on complete pages that nobody here wrote, read from the packages that ship them.

What each page holds was read off its source by eye, not off our own output.
"""

from dataclasses import dataclass, field

import pytest

from openacorn.core.audit.extract.structured import find_types, read_blocks
from tests.core.audit.reading import REFERENCES, judged, page


@dataclass(frozen=True)
class Expected:
    """Package and file, and what is on that page."""

    file: str
    outcomes: dict[str, str]
    title: str | None
    images: int
    bare_images: int
    inner: tuple[str, ...] = field(default=())


GAP, OK, PARTIAL, NA, UNKNOWN = "gap", "ok", "partial", "not applicable", "unknown"
THEME = {
    "viewport": OK,
    "meta_description": GAP,
    "analytics": GAP,
    "ad_pixel": GAP,
    "structured_data": GAP,
    "email_found": GAP,
}
# a form service's script at a host that nobody knows: whether it counts visitors does not show
FORMS = THEME | {"analytics": UNKNOWN, "ad_pixel": UNKNOWN}
PAGES = [
    # npm startbootstrap-agency 7.0.12: its largest heading is a div; social links are "#!" placeholders
    Expected("startbootstrap-agency/dist/index.html", FORMS | {"title": OK, "headings": GAP, "real_site": OK, "image_alt": OK, "social_links": GAP}, "Agency - Start Bootstrap Theme", 30, 0),
    # npm startbootstrap-creative 7.0.7: one h1; six portfolio pictures, all with alt="..."; a phone in +1 (555) format, invalid by plan: shown all the same
    Expected("startbootstrap-creative/dist/index.html", FORMS | {"title": OK, "headings": OK, "real_site": OK, "image_alt": OK, "phone_found": UNKNOWN}, "Creative - Start Bootstrap Theme", 6, 0),
    # npm startbootstrap-freelancer 7.0.7: one h1, avatar and twelve portfolio pictures with alt
    Expected("startbootstrap-freelancer/dist/index.html", FORMS | {"title": OK, "headings": OK, "real_site": OK, "image_alt": OK}, "Freelancer - Start Bootstrap Theme", 13, 0),
    # npm startbootstrap-business-casual 7.0.9: links to about.html
    Expected("startbootstrap-business-casual/dist/index.html", THEME | {"title": OK, "headings": OK, "real_site": OK, "image_alt": OK}, "Business Casual - Start Bootstrap Theme", 1, 0, ("about",)),
    # npm startbootstrap-clean-blog 6.0.9: no img element at all (background pictures); contact and about pages
    Expected("startbootstrap-clean-blog/dist/index.html", THEME | {"title": OK, "headings": OK, "real_site": OK, "image_alt": NA}, "Clean Blog - Start Bootstrap Theme", 0, 0, ("contact", "about")),
    # npm html5-boilerplate 9.0.1: empty title and description, six words of text and a script that may build the rest
    Expected("html5-boilerplate/dist/index.html", {"viewport": OK, "title": UNKNOWN, "meta_description": UNKNOWN, "headings": UNKNOWN, "image_alt": UNKNOWN}, None, 0, 0),
    # npm reveal.js 6.0.2, demo.html: a description of 75 characters; its slides start with a picture in the heading's place
    Expected("reveal.js/demo.html", {"viewport": OK, "title": OK, "meta_description": OK, "real_site": OK, "image_alt": PARTIAL}, "reveal.js – The HTML Presentation Framework", 6, 2),
]  # fmt: skip


@pytest.mark.parametrize("expected", PAGES, ids=lambda item: item.file)
def test_a_page_nobody_here_wrote(expected: Expected) -> None:
    html = (REFERENCES / expected.file).read_text(encoding="utf-8")
    facts = page(html)
    assert (facts.title, facts.images, len(facts.images_without_alt)) == (
        expected.title,
        expected.images,
        expected.bare_images,
    )
    assert tuple(kind for kind, _ in facts.inner_links) == expected.inner
    findings = judged(html)
    assert {check: str(findings[check].outcome) for check in expected.outcomes} == expected.outcomes
    assert not any(finding.crashed for finding in findings.values())


def test_structured_data_agrees_with_a_reference_reader() -> None:
    import extruct

    html = """<script type="application/ld+json">{"@context":"https://schema.org","@graph":[{"@type":"WebPage"},
    {"@type":["Optician","Store"],"address":{"@type":"PostalAddress"}}]}</script>
    <div itemscope itemtype="https://schema.org/Florist"><p itemprop="name">Gull</p></div>"""
    theirs = extruct.extract(html, syntaxes=["json-ld", "microdata"])
    names = {
        name
        for node in theirs["json-ld"][0]["@graph"]
        for name in ([node["@type"]] if isinstance(node["@type"], str) else node["@type"])
    }
    names |= {item["type"].rsplit("/", 1)[1] for item in theirs["microdata"]}
    ours = {found.value for found in page(html).schema_types}
    assert names <= ours
    assert ours - names == {"PostalAddress"}  # nested types, which the reference leaves inside their parent


def test_one_broken_block_does_not_hide_the_others() -> None:
    objects, broken = read_blocks(['{"@type": "Optician",}', "{nonsense", '/*<![CDATA[*/{"@type":"Florist"}/*]]>*/'])
    assert {item.value for item in find_types(objects, [])} == {"Optician", "Florist"}
    assert broken == ("{nonsense",)


def test_local_business_types_are_those_of_the_published_hierarchy() -> None:
    import re

    from openacorn.core.audit.extract.schema_types import LOCAL_BUSINESS_TYPES

    text = (REFERENCES / "schema-dts" / "dist" / "schema.d.ts").read_text(encoding="utf-8")
    parents: dict[str, set[str]] = {}
    for name, above in re.findall(r"interface (\w+?)(?:Base|Leaf)? extends ([^{]+)\{", text):
        parents.setdefault(name, set()).update(re.sub(r"(Base|Leaf)$", "", part.strip()) for part in above.split(","))
    under = {"LocalBusiness"}
    while more := {name for name, above in parents.items() if above & under} - under:
        under |= more
    assert under == LOCAL_BUSINESS_TYPES
    assert "VeterinaryCare" not in under
