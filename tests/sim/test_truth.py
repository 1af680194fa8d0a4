"""Any site the world can draw, rendered and judged with no network, agrees with its truth: each side checks the other."""

import dataclasses
import random

from hypothesis import given, settings
from hypothesis import strategies as st

from openacorn.core.audit.assemble import assemble
from openacorn.core.audit.check import run_checks
from openacorn.core.audit.evidence import Crawl, ListingFacts, PageFacts, Pages, Visit
from openacorn.core.audit.extract.decode import decode_html
from openacorn.core.audit.extract.page import read_page
from openacorn.sim.archetypes import ARCHETYPES, draw_features
from openacorn.sim.names import national
from openacorn.sim.pages import CONTACT_PATHS, render
from openacorn.sim.site import PLACEHOLDERS, Site
from openacorn.sim.truth import PAGE_CHECKS, site_truth

AT = "2026-09-01T00:00:00+00:00"
NETWORKED = {"load_time", "page_weight", "caching", "large_images", "compression", "sitemap", "mixed_content"}
"""These need what only a server tells: sizes, headers, other files."""


def drawn(seed: int, archetype: int) -> Site:
    rng = random.Random(seed)
    site = Site(
        host="harbourvets.example", name="Harbour & Søn Vets", trade="Vet", town="Port Ellery", street="14 Mill Lane",
        phone="+61355501234", phone_style=rng.randrange(4), email="petra@harbourvets.example", owner_name="Petra Núñera",
    )  # fmt: skip
    draw_features(site, rng)
    ARCHETYPES[archetype][2](site, rng)
    return dataclasses.replace(site, transport="ok")


def read(site: Site) -> Pages:
    """The home page and, if it links to one, the contact page, as the probe would read them."""

    def page(path: str) -> PageFacts:
        body = render(site, path)
        assert body is not None
        text, _ = decode_html(body, "text/html")
        return read_page(text, f"https://{site.host}{path}", AT, "AU")

    home = page("/")
    paths = [url.removeprefix(f"https://{site.host}") for _, url in home.inner_links]
    return Pages(home, tuple(page(path) for path in paths if path in CONTACT_PATHS))


@settings(max_examples=250, deadline=None)
@given(st.integers(0, 10**6), st.integers(0, len(ARCHETYPES) - 1))
def test_what_is_read_off_a_page_is_what_was_put_on_it(seed: int, archetype: int) -> None:
    site = drawn(seed, archetype)
    visit = Visit(f"https://{site.host}/", f"https://{site.host}/", AT, status=200)
    crawl = Crawl(visit, read(site))
    found = run_checks(assemble(ListingFacts(site.name, visit.asked, "s", AT), crawl))
    for check, answer in site_truth(site).items():
        if check in NETWORKED or check not in {*PAGE_CHECKS, "real_site"}:
            continue
        answered = str(found[check].outcome)
        if answer.decidable:
            assert answered == answer.outcome, (check, site.look, found[check])
        else:
            assert answered in {"unknown", "ok"}, (check, site.look, found[check])


@given(st.integers(0, 10**6))
def test_placeholders_hold_nothing_of_the_business_but_its_name(seed: int) -> None:
    for look in PLACEHOLDERS:
        site = dataclasses.replace(drawn(seed, 0), look=look)
        page = read(site).home
        assert page.placeholder
        assert page.emails == page.phones == ()


@given(st.integers(0, 3), st.sampled_from(["+61355501234", "+61491570006", "+61270109999"]))
def test_every_way_of_writing_a_number_reads_back(style: int, number: str) -> None:
    page = read_page(f"<p>Call {national(number, style)} today</p>", "https://a.example/", AT, "AU")
    assert [found.value for found in page.phones] == [number]
