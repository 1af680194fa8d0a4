"""Checks on one page's source: each outcome of each, and the traps they must not walk into."""

import dataclasses
from typing import Any

import pytest

from openacorn.core.audit.assemble import assemble
from openacorn.core.audit.check import run_checks
from openacorn.core.audit.evidence import (
    Certificate,
    Crawl,
    FileKind,
    ListingFacts,
    Pages,
    TlsProblem,
    Visit,
    Weighed,
    Weights,
)
from openacorn.core.audit.finding import Finding
from openacorn.core.audit.offsite import Crawling
from tests.core.audit.reading import AT, URL, page

LISTING = ListingFacts(
    "Harbour Vets", URL, "a listing", AT, "AU", "+61355501234", "14 Mill Lane", "Port Ellery", "vets"
)
TEXT = "<p>" + "We look after your cats and dogs. They go home glad. " * 8 + "</p>"
FACTS = '"name": "Harbour Vets", "address": {"@type": "PostalAddress"}'
FULL = FACTS + ', "telephone": "1", "url": "x", "image": "y", "geo": {"latitude": 1}'
GTAG = "<script>gtag('config','AW-123456789')</script>"
FORM = "<form><input name=a><input type=email name=mail><textarea></textarea></form>"


def found(body: str, head: str = "", html: str = "<html lang=en>", **changes: Any) -> dict[str, Finding]:
    """Every check's answer for a site of one page."""
    visit = Visit(URL, URL, AT, (URL,), 200, certificate=Certificate(None, "", "Issuer", "2027-01-01T00:00:00+00:00"))
    crawl = Crawl(
        dataclasses.replace(visit, **changes.pop("visit", {})),
        Pages(page(f"{html}<head>{head}</head><body>{TEXT}{body}</body></html>")),
        changes.pop("weights", Weights(9000, (), 0)),
        crawling=changes.pop("crawling", Crawling(URL, AT, False, URL + "robots.txt", "", True)),
    )
    return run_checks(assemble(dataclasses.replace(LISTING, **changes), crawl))


VIEWPORT = '<meta name="viewport" content="width=device-width">'
LD = '<script type="application/ld+json">{{"@type": "LocalBusiness", {}}}</script>'
CASES: list[tuple[str, str, str, str]] = [
    # check, markup in the body, in the head, outcome
    ("mixed_content", '<img src="http://x.example/a.jpg">', "", "gap"),
    ("mixed_content", '<a href="http://x.example/">a link is not loaded</a>', "", "ok"),
    ("fixed_layout", '<table width="760"><tr><td>x</td></tr></table>', VIEWPORT, "gap"),
    ("fixed_layout", '<div style="max-width: 960px">x</div>', VIEWPORT, "ok"),
    ("fixed_layout", '<img width="1200" src="a.jpg" alt="">', VIEWPORT, "ok"),
    ("fixed_layout", "", "", "unknown"),
    ("tap_phone", '<a href="tel:0355501234">call</a>', "", "ok"),
    ("tap_phone", "Call (03) 5550 1234", "", "gap"),
    ("tap_phone", "", "", "not applicable"),
    ("indexable", "", '<meta name="robots" content="NOINDEX, follow">', "gap"),
    ("indexable", "", '<meta name="robots" content="max-snippet:20">', "ok"),
    ("indexable", "", '<link rel="canonical" href="https://other.example/">', "partial"),
    ("indexable", "", '<link rel="canonical" href="https://www.harbourvets.example/">', "ok"),
    ("heading_order", "<h1>a</h1><h2>b</h2><h3>c</h3><h2>d</h2>", "", "ok"),
    ("heading_order", "<h1>a</h1><h3>b</h3>", "", "partial"),
    ("heading_order", "<h1>a</h1>", "", "not applicable"),
    ("language", "", "", "ok"),
    ("trade_and_town", "<h1>Veterinary care</h1>", "<title>Harbour – Port Ellery</title>", "ok"),
    ("trade_and_town", "<h1>Welcome</h1>", "<title>Vets of the coast</title>", "partial"),
    ("trade_and_town", "<h1>Welcome</h1>", "<title>Home</title>", "gap"),
    ("structured_properties", LD.format(FULL), "", "ok"),
    ("structured_properties", LD.format(FACTS), "", "partial"),
    ("structured_properties", LD.format('"name": "x", "address": ""'), "", "gap"),
    ("structured_properties", "", "", "not applicable"),
    ("meta_pixel", "<script>fbq('init', '123456789012345')</script>", "", "ok"),
    ("meta_pixel", "<p>We know what fbq('init') does.</p>", "", "gap"),
    ("meta_pixel", "", '<script src="https://www.googletagmanager.com/gtm.js?id=GTM-ABCD12"></script>', "unknown"),
    ("google_ads_tag", GTAG, "", "ok"),
    ("other_pixels", '<script src="https://static.ads-twitter.com/uwt.js"></script>', "", "ok"),
    ("tag_manager", '<script src="https://www.googletagmanager.com/gtm.js?id=GTM-ABCD12"></script>', "", "ok"),
    ("tag_manager", "", "", "gap"),
    ("session_recording", "<script>window._hjSettings={}</script>", "", "ok"),
    ("publisher_ads", '<script src="https://pagead2.googlesyndication.com/pagead/js/x.js"></script>', "", "partial"),
    ("publisher_ads", "", "", "ok"),
    ("conversion_tracking", GTAG, "", "unknown"),
    ("conversion_tracking", GTAG + "<script>gtag('event','conversion',{})</script>", "", "ok"),
    ("conversion_tracking", "", "", "not applicable"),
    ("consent", GTAG, "", "gap"),
    ("consent", GTAG + '<script src="https://consent.cookiebot.com/uc.js"></script>', "", "ok"),
    ("consent", GTAG + "<div>This site uses cookies. <button>Accept</button></div>", "", "unknown"),
    ("consent", '<script src="https://plausible.io/js/script.js"></script>', "", "not applicable"),
    ("profile_theirs", '<a href="https://facebook.com/harbourvets">f</a>', "", "ok"),
    ("profile_theirs", '<a href="https://facebook.com/wix">f</a>', "", "gap"),
    ("profile_theirs", '<a href="https://instagram.com/petra.n">f</a>', "", "unknown"),
    ("phone_agrees", "Call (03) 5550 1234", "", "ok"),
    ("phone_agrees", "Call (03) 5550 9999", "", "partial"),
    ("phone_agrees", "", "", "not applicable"),
    ("address_found", "Unit 2, 14 Mill Ln, Port Ellery", "", "ok"),
    ("address_found", "114 Mill Lane", "", "gap"),
    ("address_found", LD.format(FACTS), "", "unknown"),
    ("hours_found", "Mon–Fri 9am–5pm", "", "ok"),
    ("hours_found", "Maintenance on Friday April 30, 02:00–04:00", "", "gap"),
    ("hours_found", "Monday 2 December: 9am–5pm<br>Tuesday 3 December: 9am–12pm", "", "ok"),
    ("hours_found", "Montague Street, 9 to 11 minutes from here; on Sunday we rest", "", "gap"),
    ("contact_form", FORM, "", "ok"),
    ("contact_form", "<form><input type=email name=mail><button>Subscribe</button></form>", "", "gap"),
    ("people_named", "<p>Petra Núñez, owner</p>", "", "ok"),
    ("people_named", "<p>Our Team, owner operated</p><p>the owner will call</p>", "", "gap"),
    ("video", '<iframe src="https://player.vimeo.com/video/1"></iframe>', "", "ok"),
    ("video", '<video><source src="/film.mp4"></video>', "", "ok"),
    ("video", '<a href="https://youtube.com/watch?v=1">our film</a>', "", "gap"),
    ("copyright_year", "© 2025–2026 Harbour Vets", "", "ok"),
    ("copyright_year", "Copyright 2024 Harbour Vets", "", "partial"),
    ("copyright_year", "(c) 2011", "", "gap"),
    ("copyright_year", "since 1998", "", "not applicable"),
    ("booking", '<a href="/x">Book an appointment</a>', "", "ok"),
    ("booking", '<a href="https://calendly.com/harbour/visit">When suits you?</a>', "", "ok"),
    ("booking", '<a href="/notebook">Our notebook</a>', "", "gap"),
    ("shop", "<button>Add to cart</button>", "", "ok"),
    ("shop", '<a href="/blog">Workshop news</a>', "", "gap"),
    ("privacy_page", '<a href="/privacy-policy">Legal</a>', "", "ok"),
    ("privacy_page", "", "", "gap"),
    ("chat", '<script src="https://embed.tawk.to/1/default"></script>', "", "ok"),
    ("dated_markup", '<font color="red">x</font><center>y</center>', "", "gap"),
    ("dated_markup", "<center>y</center>", "", "partial"),
    ("dated_markup", "", "", "ok"),
    ("platform", "", '<meta name="generator" content="Quillpress 3.9.2">', "ok"),
    ("platform", '<img src="/wp-content/a.jpg" alt="">', "", "ok"),
    ("platform", "", "", "unknown"),
    ("site_ownership", "Call (03) 5550 1234", "", "ok"),
    ("site_ownership", "", "<title>Harbour Vets</title>", "ok"),
    ("site_ownership", "<h1>Kelp Bikes</h1>Call (03) 5550 9999", "<title>Kelp Bikes</title>", "gap"),
    ("site_ownership", "<h1>Welcome to the harbour</h1>", "", "unknown"),
    ("readability", "", "", "ok"),
    ("text_amount", "", "", "partial"),
]


@pytest.mark.parametrize(("check", "body", "head", "outcome"), CASES, ids=lambda value: str(value)[:24])
def test_each_outcome_of_a_page(check: str, body: str, head: str, outcome: str) -> None:
    finding = found(body, head)[check]
    assert finding.outcome == outcome, finding
    assert finding.reason
    if outcome in {"gap", "partial"}:
        assert any(shown.snippet for shown in finding.evidence)


def weighed(*files: tuple[FileKind, int | None, int | None]) -> Weights:
    return Weights(
        9000,
        tuple(Weighed(f"{URL}{n}", kind, False, size, kept, True) for n, (kind, size, kept) in enumerate(files)),
        0,
    )


IMAGE, STYLE = FileKind.IMAGE, FileKind.STYLE
SENT: list[tuple[str, dict[str, Any], str]] = [
    ("certificate_days", {"visit": {"certificate": Certificate(None, "", "I", "2026-09-08T00:00:00+00:00")}}, "partial"),
    ("certificate_days", {"visit": {"certificate": Certificate(TlsProblem.EXPIRED, "", "I", "2026-08-01T00:00:00+00:00")}}, "gap"),
    ("certificate_days", {"visit": {"certificate": None, "url": "http://a.example/"}}, "not applicable"),
    ("https_redirect", {"visit": {"sent_to_https": True}}, "ok"),
    ("https_redirect", {"visit": {"sent_to_https": False}}, "gap"),
    ("https_redirect", {"visit": {"sent_to_https": None}}, "unknown"),
    ("https_redirect", {"visit": {"url": "http://a.example/", "https_elsewhere": True}}, "gap"),
    ("hsts", {"visit": {"headers": (("strict-transport-security", "max-age=31536000; includeSubDomains"),)}}, "ok"),
    ("hsts", {"visit": {"headers": (("strict-transport-security", 'max-age="86400"'),)}}, "partial"),
    ("hsts", {"visit": {"headers": (("strict-transport-security", "max-age=0"),)}}, "gap"),
    ("server_wait", {"visit": {"wait_s": 0.3}}, "ok"),
    ("server_wait", {"visit": {"wait_s": 1.2}}, "unknown"),
    ("server_wait", {"visit": {"wait_s": 2.5}}, "gap"),
    # our own process stood still meanwhile: what it lost may be the server's wait, and is neither "fast" nor a gap
    ("server_wait", {"visit": {"wait_s": 0.3, "lost_s": 0.5}}, "ok"),
    ("server_wait", {"visit": {"wait_s": 0.3, "lost_s": 4.3}}, "unknown"),
    ("server_wait", {"visit": {"wait_s": 2.5, "lost_s": 4.3}}, "gap"),
    ("indexable", {"visit": {"headers": (("x-robots-tag", "noindex"),)}}, "gap"),
    ("compression", {"visit": {"headers": (("content-encoding", "br"),)}}, "ok"),
    ("page_weight", {"weights": weighed((IMAGE, 4_000_000, None))}, "gap"),
    ("page_weight", {"weights": weighed((IMAGE, 2_000_000, None))}, "partial"),
    ("page_weight", {"weights": weighed((IMAGE, None, None))}, "unknown"),
    ("page_weight", {"weights": weighed((STYLE, 20_000, None))}, "ok"),
    ("caching", {"weights": weighed((STYLE, 1, 604_800), (IMAGE, 1, 86_400))}, "ok"),
    ("caching", {"weights": weighed((STYLE, 1, 604_800), (IMAGE, 1, 0))}, "partial"),
    ("caching", {"weights": weighed((STYLE, 1, None))}, "gap"),
    ("large_images", {"weights": weighed((IMAGE, 900_000, None))}, "gap"),
    ("large_images", {"weights": weighed((IMAGE, 350_000, None))}, "partial"),
    ("large_images", {"weights": weighed((STYLE, 900_000, None))}, "not applicable"),
    ("robots_open", {"crawling": Crawling(URL, AT, True, URL + "robots.txt")}, "gap"),
    ("robots_open", {}, "ok"),
    ("sitemap", {"crawling": Crawling(URL, AT, False, "", URL + "sitemap.xml", True)}, "ok"),
    ("sitemap", {"crawling": Crawling(URL, AT, False, "", "", False)}, "unknown"),
    ("sitemap", {}, "gap"),
    ("phone_agrees", {"phone": ""}, "not applicable"),
    ("address_found", {"street": ""}, "not applicable"),
    ("trade_and_town", {"trade": "alchemists"}, "not applicable"),
]  # fmt: skip


@pytest.mark.parametrize(("check", "changes", "outcome"), SENT, ids=lambda value: str(value)[:40])
def test_each_outcome_of_a_visit(check: str, changes: dict[str, Any], outcome: str) -> None:
    finding = found("", **dict(changes))[check]
    assert finding.outcome == outcome, finding


HIDDEN = "<div id=root></div><script src=/app.js></script>"


def test_a_page_that_a_script_builds_lacks_nothing() -> None:
    """No check may call a gap what a browser might show: only what the source itself decides may be said."""
    visit = Visit(URL, URL, AT, (URL,), 200)
    crawl = Crawl(
        visit, Pages(page(f"<html lang=en><title>Harbour Vets</title>{VIEWPORT}<body>{HIDDEN}")), Weights(900, (), 0)
    )
    answer = run_checks(assemble(LISTING, crawl))
    assert {answer[check].outcome for check in ("analytics", "retired_analytics", "meta_pixel")} == {"unknown"}
    assert {check for check, finding in answer.items() if finding.outcome == "gap"} <= {"hsts", "website_listed"}
