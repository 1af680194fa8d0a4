"""Checks: each outcome of each, and that missing evidence or a crash is never a pass or a gap."""

import dataclasses
from typing import Any

import pytest

from openacorn.core.audit.assemble import assemble
from openacorn.core.audit.check import Absent, Check, Group, all_checks, run_check, run_checks
from openacorn.core.audit.evidence import (
    Certificate,
    Crawl,
    Failure,
    FileKind,
    ListingFacts,
    PageFacts,
    Pages,
    TlsProblem,
    Visit,
    Weighed,
    Weights,
)
from openacorn.core.audit.finding import Finding, Outcome
from openacorn.core.audit.load_model import modelled_seconds
from tests.core.audit.reading import AT, URL, judged, page

LISTING = ListingFacts("Harbour Vets", URL, "a listing", AT)
WORDS = "<p>" + "Kind care for cats and dogs since the beginning. " * 4 + "</p>"


def site(visit: Visit, html: str | None = WORDS) -> dict[str, str]:
    crawl = Crawl(visit, Pages(page(html)) if html is not None else None)
    return {check: str(finding.outcome) for check, finding in run_checks(assemble(LISTING, crawl)).items()}


SOUND = Visit(URL, URL, AT, (URL,), 200, certificate=Certificate(None, "", "An issuer", "2027-01-01"))


def visit(**changes: Any) -> Visit:
    return dataclasses.replace(SOUND, **changes)


ANSWERS = [
    ("answers", visit(), "ok", "ok"),
    ("no such name", visit(status=None, failure=Failure.NO_SUCH_NAME, certificate=None), "gap", "unknown"),
    ("name server down", visit(status=None, failure=Failure.DNS_UNAVAILABLE, certificate=None), "unknown", "unknown"),
    ("refused", visit(status=None, failure=Failure.REFUSED, certificate=None), "gap", "unknown"),
    ("timed out", visit(status=None, failure=Failure.TIMEOUT, certificate=None), "gap", "unknown"),
    (
        "no secure connection",
        visit(status=None, failure=Failure.TLS, certificate=Certificate(TlsProblem.HANDSHAKE, "x")),
        "gap",
        "gap",
    ),
    ("robots.txt forbids", visit(status=None, failure=Failure.ROBOTS), "unknown", "ok"),
    ("turned away", visit(status=403), "unknown", "ok"),
    ("too many requests", visit(status=429), "unknown", "ok"),
    ("not found", visit(status=404), "gap", "ok"),
    ("server error", visit(status=500), "gap", "ok"),
    (
        "certificate expired",
        visit(certificate=Certificate(TlsProblem.EXPIRED, "expired", "I", "2026-01-01")),
        "partial",
        "gap",
    ),
    ("plain, HTTPS dead", visit(url="http://h.example/", certificate=None, https_elsewhere=False), "ok", "gap"),
    ("plain, HTTPS unused", visit(url="http://h.example/", certificate=None, https_elsewhere=True), "ok", "partial"),
    ("plain, HTTPS not tried", visit(url="http://h.example/", certificate=None, https_elsewhere=None), "ok", "unknown"),
]


@pytest.mark.parametrize(("seen", "answers", "https"), [c[1:] for c in ANSWERS], ids=[c[0] for c in ANSWERS])
def test_where_an_address_fails_is_told_apart(seen: Visit, answers: str, https: str) -> None:
    found = site(seen, WORDS if seen.answered else None)
    assert (found["answers"], found["https"]) == (answers, https)


PAGES = [
    ("title", "<title>Harbour Vets, Port Ellery</title>", "ok"),
    ("title", "<title> Home </title>", "partial"),
    ("title", f"<title>{'very long ' * 12}</title>", "partial"),
    ("title", "<svg><title>drawing</title></svg>", "gap"),
    (
        "meta_description",
        '<meta name="Description" content="Kind care for cats and dogs in Port Ellery, six days a week.">',
        "ok",
    ),
    ("meta_description", '<meta name="description" content="Vets">', "partial"),
    ("meta_description", '<meta name="description" content="">', "gap"),
    ("viewport", '<meta name="viewport" content="width=device-width">', "ok"),
    ("viewport", '<meta name="viewport" content="initial-scale=1.0">', "ok"),
    ("viewport", '<meta name="viewport" content="width=1024">', "partial"),
    ("viewport", "", "gap"),
    ("headings", "<h1>Harbour Vets</h1>", "ok"),
    ("headings", '<h1><img src="logo.png" alt="Harbour Vets"></h1>', "ok"),
    ("headings", "<h1>One</h1><h1>Two</h1>", "partial"),
    ("headings", "<h1> </h1><h2>Harbour Vets</h2>", "gap"),
    ("image_alt", '<img src=a alt="A cat"><img src=b alt="">', "ok"),
    ("image_alt", '<img src=a alt="A cat"><img src=b alt="A dog"><img src=c>', "partial"),
    ("image_alt", "<img src=a><img src=b alt=x>", "gap"),
    ("image_alt", '<img src=p width=1 height=1><img src=d role="presentation">', "ok"),
    ("image_alt", "", "not applicable"),
    ("structured_data", '<script type="application/ld+json">{"@type":"Optician"}</script>', "ok"),
    ("structured_data", '<div itemscope itemtype="http://schema.org/LocalBusiness"></div>', "ok"),
    ("structured_data", '<script type="application/ld+json">{"@type":"Organization"}</script>', "partial"),
    ("structured_data", '<script type="application/ld+json">{"@type":</script>', "partial"),
    ("structured_data", '<script type="application/ld+json">{"@type":"WebSite"}</script>', "gap"),
    ("social_links", '<a href="https://facebook.com/harbourvets">f</a>', "ok"),
    ("social_links", '<a href="https://facebook.com/sharer.php?u=x">share</a>', "gap"),
    ("email_found", "jo@harbour.example", "ok"),
    ("email_found", "", "gap"),
    ("phone_found", "(03) 5550 1234", "ok"),
    ("phone_found", '<img src="number.png" alt="our number">', "gap"),
    ("real_site", "", "ok"),
]


@pytest.mark.parametrize(("check", "html", "outcome"), PAGES)
def test_a_check_of_the_page(check: str, html: str, outcome: str) -> None:
    finding = judged(html + WORDS)[check]
    assert str(finding.outcome) == outcome
    assert finding.reason
    if outcome in {"gap", "partial"}:
        assert finding.evidence or check == "viewport"


HIDDEN = [
    ("built by script", '<div id="root"></div><script src="/app.js"></script>'),
    ("frames", '<frameset cols="20,*"><frame src="a.htm"><frame src="b.htm"></frameset>'),
]


@pytest.mark.parametrize("html", [c[1] for c in HIDDEN], ids=[c[0] for c in HIDDEN])
def test_what_a_source_does_not_show_is_unknown(html: str) -> None:
    findings = judged(html)
    for check in (
        "title",
        "headings",
        "email_found",
        "phone_found",
        "social_links",
        "structured_data",
        "analytics",
        "ad_pixel",
        "real_site",
    ):
        assert findings[check].outcome is Outcome.UNKNOWN, check


def test_an_empty_page_is_a_gap_and_a_parked_one_makes_page_questions_moot() -> None:
    assert judged("<html><body></body></html>")["real_site"].outcome is Outcome.GAP
    parked = judged("<title>h.example</title><p>This domain is for sale</p>")
    assert parked["real_site"].value == "parked"
    assert parked["title"].outcome is Outcome.NOT_APPLICABLE


def test_an_unread_contact_page_leaves_contacts_unknown() -> None:
    pages = Pages(page(WORDS), (), (("contact", URL + "contact"),))
    found = run_checks(assemble(LISTING, Crawl(visit(), pages)))
    assert found["email_found"].outcome is found["phone_found"].outcome is Outcome.UNKNOWN


def test_without_a_listed_website_only_that_is_said() -> None:
    found = run_checks(assemble(ListingFacts("Gull Florist", None, "a listing", AT), None))
    assert found.pop("website_listed").outcome is Outcome.GAP
    open_ones = {found.pop("no_website_confirmed").outcome, found.pop("name_domain").outcome}
    assert open_ones == {Outcome.UNKNOWN}  # "none listed" is not "none": nobody has looked yet
    assert {finding.outcome for finding in found.values()} == {Outcome.NOT_APPLICABLE}


def test_a_social_page_is_no_website_of_its_own() -> None:
    found = run_checks(assemble(ListingFacts("Gull Florist", "https://www.facebook.com/gull", "a listing", AT), None))
    assert (found["own_domain"].outcome, found["own_domain"].value) == (Outcome.GAP, "social page")
    assert found["answers"].outcome is Outcome.NOT_APPLICABLE


def weights(*sizes: int | None) -> Weights:
    return Weights(
        30_000, tuple(Weighed(f"{URL}{n}.jpg", FileKind.IMAGE, False, size) for n, size in enumerate(sizes)), 0
    )


@pytest.mark.parametrize(
    ("files", "wait", "outcome"),
    [
        ((20_000,), 0.1, "ok"),
        ((900_000,), 0.1, "gap"),
        ((300_000,), 0.2, "unknown"),
        ((20_000, None), 0.1, "unknown"),
        ((900_000, None), 0.1, "gap"),
        ((), 5.0, "gap"),
    ],
)
def test_a_modelled_time_is_called_only_where_it_is_clear(
    files: tuple[int | None, ...], wait: float, outcome: str
) -> None:
    crawl = Crawl(visit(wait_s=wait), Pages(page(WORDS)), weights(*files))
    finding = run_checks(assemble(LISTING, crawl))["load_time"]
    assert str(finding.outcome) == outcome
    assert "modelled" in finding.evidence[0].snippet


def test_the_load_model_by_hand() -> None:
    # https: 3 set-up round trips + 1 for the page + 1 for pictures = 5 × .15 s; 50,000 bytes ÷ 200,000 a second = .25 s; wait .2 s
    seconds, complete = modelled_seconds(visit(wait_s=0.2), weights(20_000))
    assert (round(seconds, 3), complete) == (1.2, True)


def broken(_page: PageFacts) -> Finding:
    raise ZeroDivisionError("a rule gone wrong")


def test_missing_evidence_and_a_crash_are_unknown_and_say_why() -> None:
    check = Check("x", Group.PRESENCE, "X", "Because.", (PageFacts,), broken)
    missing = run_check(check, {PageFacts: Absent("the site did not answer")})
    assert (missing.outcome, missing.reason, missing.crashed) == (Outcome.UNKNOWN, "the site did not answer", False)
    assert run_check(check, {}).outcome is Outcome.UNKNOWN
    crashed = run_check(check, {PageFacts: page(WORDS)})
    assert (crashed.outcome, crashed.crashed) == (Outcome.UNKNOWN, True)
    assert "ZeroDivisionError: a rule gone wrong" in crashed.reason


def test_no_check_passes_or_fails_anyone_without_evidence() -> None:
    assert {run_check(check, {}).outcome for check in all_checks()} == {Outcome.UNKNOWN}
