"""Pages made to be slow are read in bounded time, and what they hide is unknown. Each takes minutes where a bound is missing."""

import pytest

from openacorn.core.audit.extract.bounded import MOST_OPEN, bounded
from openacorn.core.audit.extract.page import read_page
from tests.core.audit.reading import judged

PAGES = {
    "deep nesting": "<div>" * 200_000 + "x",
    "nested items": '<div itemscope itemtype="https://schema.org/LocalBusiness" itemprop="x">' * 20_000,
    "100,000 links": '<a href="/book">Book an appointment ' * 100_000,
    "2 MB attribute": '<div style="' + "width:" * 350_000 + '">',
    "forms": "<form><input name=mail><input><input></form>" * 50_000,
    "names": "Aa Bb Cc " * 200_000,
    "names on lines": "Aa Bb\n \n" * 200_000,
    "roles": "owner " * 200_000,
    "years": "© " * 300_000,
    "weekdays": "Mon 9 " * 200_000,
    "half addresses": "a@b." * 200_000,
    "open brackets": '<script type="application/ld+json">' + "[" * 200_000 + "</script>",
    "NUL bytes": "\0<p\0>" * 100_000,
}


@pytest.mark.timeout(60)
@pytest.mark.parametrize("html", PAGES.values(), ids=PAGES.keys())
def test_a_page_made_to_be_slow_is_read(html: str) -> None:
    assert read_page(html, "https://harbour.example/", "2026-09-01T00:00:00+00:00", "AU").url


def test_what_was_cut_off_is_unknown() -> None:
    answer = judged("<title>Harbour Vets</title>" + "<div>" * (MOST_OPEN + 5) + "<a href='tel:0355501234'>call</a>")
    assert {str(answer[check].outcome) for check in ("phone_found", "headings", "booking", "analytics")} == {"unknown"}


@pytest.mark.parametrize("html", ["<p>a" * 50_000, "<br>" * 50_000, "<div></div>" * 50_000, "<li>x" * 50_000])
def test_long_pages_of_ordinary_markup_are_read_whole(html: str) -> None:
    assert bounded(html) == (html, False)
