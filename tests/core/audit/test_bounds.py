"""Checks of what is measured or asked rather than read: the answer on either side of each bound."""

from dataclasses import replace
from typing import Any

import pytest

from openacorn.core.audit.check import run_checks
from openacorn.core.audit.evidence import (
    Certificate,
    Failure,
    FileKind,
    ListingFacts,
    PageContent,
    PageFacts,
    Pages,
    Rendered,
    Subresource,
    TlsProblem,
    Visit,
    Weighed,
    Weights,
)
from openacorn.core.audit.offsite import Candidate, Crawling, DomainNames, MailDomain, SiteSearch
from openacorn.core.audit.reputation import PROFILE, LocalRank, Reputation, SocialPage
from tests.core.audit.reading import AT, URL

PAGE = PageFacts(URL, AT, title="Gull Vets", words=400, html_bytes=30_000)
VISIT = Visit(URL, URL, AT, (URL,), 200, certificate=Certificate(None, "", "An issuer", "2027-01-01"))
MAIL = MailDomain("gull.example", AT, ("mx.gull.example",), (), ())
SHOWN = Rendered(URL, AT, load_s=1.0, lcp_s=1.0, width=390, content_width=390)
SAID = Reputation("s", AT, 40, 4.5, True, 9, (), PROFILE, 25, 0.6, 0.6, ("a", "b"), ())


def sent(value: str, **changes: Any) -> Visit:
    return replace(VISIT, headers=(("strict-transport-security", value),), **changes)


def ends(day: str, problem: TlsProblem | None = None) -> Visit:
    return replace(VISIT, certificate=Certificate(problem, "", "An issuer", f"{day}T00:00:00+00:00"))


VISITS = [
    ("hsts", sent("max-age=15552000"), "ok"),
    ("hsts", sent('max-age = "15551999"'), "partial"),
    ("hsts", sent("max-age=1; includeSubDomains"), "partial"),
    ("hsts", sent("max-age=0"), "gap"),
    ("hsts", VISIT, "gap"),
    ("hsts", sent("max-age=15552000", url="http://h.example/"), "not applicable"),
    ("hsts", sent("max-age=15552000", certificate=Certificate(TlsProblem.SELF_SIGNED, "x")), "not applicable"),
    ("hsts", sent("max-age=15552000", certificate=None), "ok"),
    ("hsts", replace(VISIT, status=None, failure=Failure.TIMEOUT), "unknown"),
    ("certificate_days", ends("2026-09-15"), "ok"),  # 14 days after the visit
    ("certificate_days", ends("2026-09-14"), "partial"),
    ("certificate_days", ends("2026-09-01"), "partial"),
    ("certificate_days", ends("2026-08-31"), "gap"),
    ("certificate_days", ends("2026-12-01", TlsProblem.EXPIRED), "gap"),
    ("certificate_days", replace(VISIT, url="http://h.example/", certificate=None), "not applicable"),
    ("certificate_days", replace(VISIT, certificate=None), "unknown"),
    ("server_wait", replace(VISIT, wait_s=0.8), "ok"),
    ("server_wait", replace(VISIT, wait_s=0.81), "unknown"),
    ("server_wait", replace(VISIT, wait_s=1.8), "unknown"),
    ("server_wait", replace(VISIT, wait_s=1.81), "gap"),
    ("server_wait", replace(VISIT, wait_s=0.5, lost_s=1.31), "unknown"),
    ("https_redirect", replace(VISIT, sent_to_https=True), "ok"),
    ("https_redirect", replace(VISIT, sent_to_https=False), "gap"),
    ("https_redirect", replace(VISIT, url="http://h.example/", https_elsewhere=True), "gap"),
    ("https_redirect", replace(VISIT, url="http://h.example/", https_elsewhere=False), "not applicable"),
    ("https_redirect", replace(VISIT, url="http://h.example/"), "unknown"),
    *((("answers", replace(VISIT, status=status), "unknown")) for status in (401, 403, 405, 406, 418, 429, 451, 503)),
    *((("answers", replace(VISIT, status=status), "gap")) for status in (400, 404, 410, 500)),
    ("answers", replace(VISIT, status=399), "ok"),
]


@pytest.mark.parametrize(("check", "visit", "outcome"), VISITS)
def test_visits(check: str, visit: Visit, outcome: str) -> None:
    assert run_checks({Visit: visit})[check].outcome == outcome


def records(*, mx: tuple[str, ...] = MAIL.mx, spf: str = "", dmarc: str = "") -> MailDomain:
    return replace(MAIL, mx=mx, texts=(spf,) if spf else (), dmarc=(dmarc,) if dmarc else ())


# RFC 7208 and RFC 7489: what each ending and policy asks of the receiver
MAILS = [
    ("spf", records(spf="v=spf1 mx -all"), "ok", "-"),
    ("spf", records(spf="v=spf1 mx ~all"), "ok", "~"),
    ("spf", records(spf="v=spf1 redirect=a.example"), "ok", "redirect"),
    ("spf", records(spf="v=spf1 mx ?all"), "partial", "undecided"),
    ("spf", records(spf="v=spf1 +all"), "gap", "open"),
    ("spf", replace(MAIL, texts=("v=spf1 -all", "v=spf1 mx -all")), "gap", "broken"),
    ("spf", MAIL, "gap", None),
    ("spf", records(mx=()), "not applicable", None),
    ("dmarc", records(dmarc="v=DMARC1; p=reject"), "ok", "reject"),
    ("dmarc", records(dmarc="v=DMARC1; p=quarantine; pct=100"), "ok", "quarantine"),
    ("dmarc", records(dmarc="v=DMARC1; p=quarantine; pct=99"), "partial", "quarantine"),
    ("dmarc", records(dmarc="v=DMARC1; p=none"), "partial", "none"),
    ("dmarc", records(dmarc="v=DMARC1; p=maybe"), "gap", "broken"),
    ("dmarc", MAIL, "gap", None),
    ("dmarc", records(mx=()), "not applicable", None),
    ("mail_host", MAIL, "ok", ["mx.gull.example"]),
    ("mail_host", records(mx=(".",)), "gap", None),
    ("mail_host", records(mx=()), "gap", None),
]


@pytest.mark.parametrize(("check", "mail", "outcome", "value"), MAILS)
def test_mail(check: str, mail: MailDomain, outcome: str, value: object) -> None:
    found = run_checks({MailDomain: mail})[check]
    assert (found.outcome, found.value) == (outcome, value)


def test_what_becomes_of_forged_mail_is_said_as_the_policy_has_it() -> None:
    said = [
        run_checks({MailDomain: records(dmarc=f"v=DMARC1; p={word}")})["dmarc"].reason
        for word in ("reject", "quarantine")
    ]
    assert said == ["forged mail is to be refused", "forged mail is to be put aside"]


def files(*sizes: int | None, kind: FileKind = FileKind.IMAGE, html: int = 0, more: int = 0) -> Weights:
    return Weights(html, tuple(Weighed(f"{URL}{n}", kind, False, size) for n, size in enumerate(sizes)), more)


KB = 1000
FILES = [
    ("page_weight", files(1599 * KB + 999), "ok"),
    ("page_weight", files(1500 * KB, html=100 * KB), "partial"),
    ("page_weight", files(2999 * KB + 999), "partial"),
    ("page_weight", files(2000 * KB, 1000 * KB), "gap"),
    ("page_weight", files(3000 * KB, None), "gap"),
    ("page_weight", files(2000 * KB, None), "unknown"),
    ("page_weight", files(10, more=1), "unknown"),
    ("large_images", files(300 * KB - 1), "ok"),
    ("large_images", files(300 * KB), "partial"),
    ("large_images", files(10, 699 * KB + 999, 400 * KB), "partial"),
    ("large_images", files(300 * KB, 700 * KB), "gap"),
    ("large_images", files(10, None), "unknown"),
    ("large_images", files(10, more=1), "unknown"),
    ("large_images", files(more=1), "unknown"),
    ("large_images", files(900 * KB, kind=FileKind.SCRIPT), "not applicable"),
]


@pytest.mark.parametrize(("check", "weights", "outcome"), FILES)
def test_weights(check: str, weights: Weights, outcome: str) -> None:
    assert run_checks({Pages: Pages(PAGE), Weights: weights})[check].outcome == outcome


def test_what_a_page_weighs_is_told_by_kind() -> None:
    weights = Weights(30_400, (Weighed(URL + "a", FileKind.STYLE, True, 2_000), Weighed(URL + "b", FileKind.SCRIPT, True, 5_999), Weighed(URL + "c", FileKind.IMAGE, False, None)), 2)  # fmt: skip
    found = run_checks({Pages: Pages(PAGE), Weights: weights})["page_weight"]
    assert (
        found.evidence[0].snippet
        == "38 kB in 4 files: page 30 kB, style 2 kB, script 5 kB, image 0 kB; 3 more of unknown size"
    )
    assert (found.value, found.reason) == (38, "at least 38 kB; the size of 3 files is not known")


def kept(*seconds: int | None) -> Weights:
    return Weights(
        0, tuple(Weighed(f"{URL}{n}.css", FileKind.STYLE, True, 1, s, asked=True) for n, s in enumerate(seconds)), 0
    )


@pytest.mark.parametrize(
    ("weights", "outcome"),
    [(kept(86_400), "ok"), (kept(86_399), "gap"), (kept(86_400, None), "partial"), (kept(0, None), "gap"), (kept(), "not applicable"), (files(5), "unknown")],
)  # fmt: skip
def test_files_kept_between_visits(weights: Weights, outcome: str) -> None:
    assert run_checks({Pages: Pages(PAGE), Weights: weights})["caching"].outcome == outcome


@pytest.mark.parametrize(
    ("coding", "size", "outcome"),
    [("gzip", 9000, "ok"), ("br, gzip", 9, "ok"), ("identity", 1400, "gap"), ("", 1399, "not applicable"), ("", 9000, "gap")],
)  # fmt: skip
def test_compression(coding: str, size: int, outcome: str) -> None:
    visit = replace(VISIT, headers=(("content-encoding", coding),))
    assert run_checks({Visit: visit, Pages: Pages(replace(PAGE, html_bytes=size))})["compression"].outcome == outcome


@pytest.mark.parametrize(
    ("check", "changes", "outcome"),
    [
        ("load_measured", {"load_s": 2.0}, "ok"), ("load_measured", {"load_s": 2.1}, "partial"),
        ("load_measured", {"load_s": 3.0}, "partial"), ("load_measured", {"load_s": 3.1}, "gap"),
        ("load_measured", {"load_s": 0, "waited_s": 3.0}, "unknown"), ("load_measured", {"load_s": 0, "waited_s": 3.1}, "gap"),
        ("overflow", {"content_width": 980, "scale": 0.398}, "gap"), ("overflow", {"scale": 0.9}, "ok"), ("overflow", {"scale": 0.89}, "gap"),
        ("overflow", {"content_width": 394}, "ok"), ("overflow", {"content_width": 395}, "gap"),
        ("overflow", {"content_width": 900, "lost": (Subresource("https://cdn.example/a.css", FileKind.STYLE, True),)}, "unknown"),
        ("overflow", {"content_width": 900, "lost": (Subresource(URL + "a.js", FileKind.SCRIPT, True),)}, "unknown"),
        ("overflow", {"content_width": 900, "lost": (Subresource("https://cdn.example/a.js", FileKind.SCRIPT, True),)}, "gap"),
    ],
)  # fmt: skip
def test_a_browsers_look(check: str, changes: dict[str, Any], outcome: str) -> None:
    assert run_checks({Rendered: replace(SHOWN, **changes)})[check].outcome == outcome


@pytest.mark.parametrize(
    ("check", "changes", "outcome"),
    [
        ("profile_complete", {"missing": ("a", "b")}, "partial"), ("profile_complete", {"missing": ("a", "b", "c")}, "gap"),
        ("listing_photos", {"photos": 1}, "partial"), ("listing_photos", {"photos": 4}, "partial"), ("listing_photos", {"photos": 5}, "ok"),
        ("reviews_volume", {"reviews_rank": 0.249}, "gap"), ("reviews_volume", {"reviews_rank": 0.25}, "partial"),
        ("reviews_volume", {"reviews_rank": 0.499}, "partial"), ("reviews_volume", {"reviews_rank": 0.5}, "ok"), ("reviews_volume", {"reviews": None}, "unknown"),
        ("rating", {"rating": 3.4}, "gap"), ("rating", {"rating": 3.5, "rating_rank": 0.49}, "partial"), ("rating", {"rating": 3.5, "rating_rank": 0.5}, "ok"),
        ("rating", {"rating": 4.2, "rating_rank": 0.1}, "ok"), ("rating", {"rating": 4.1, "rating_rank": None}, "ok"),
        ("rating", {"rating": 3.0, "reviews": 5}, "gap"), ("rating", {"rating": 3.0, "reviews": 4}, "unknown"), ("rating", {"rating": 3.0, "reviews": 0}, "unknown"), ("rating", {"rating": None}, "unknown"),
    ],
)  # fmt: skip
def test_reputation(check: str, changes: dict[str, Any], outcome: str) -> None:
    assert run_checks({Reputation: replace(SAID, **changes)})[check].outcome == outcome


@pytest.mark.parametrize(("days", "outcome"), [(0, "ok"), (60, "ok"), (61, "partial"), (180, "partial"), (181, "gap")])
def test_days_since_the_last_post(days: int, outcome: str) -> None:
    # day numbers by the standard library's calendar: 2026-09-01 less so many days
    last = {0: "2026-09-01", 60: "2026-07-03", 61: "2026-07-02", 180: "2026-03-05", 181: "2026-03-04"}[days]
    page = SocialPage("https://social.example/gull", AT, None, last, False)
    found = run_checks({SocialPage: page})["social_activity"]
    assert (found.outcome, found.value) == (outcome, days)


@pytest.mark.parametrize(("rank", "outcome"), [(1, "ok"), (3, "ok"), (4, "partial"), (20, "partial"), (21, "gap")])
def test_the_place_in_a_search(rank: int, outcome: str) -> None:
    assert run_checks({LocalRank: LocalRank("s", AT, "vets", "Larch Flat", rank, 60)})["search_rank"].outcome == outcome


@pytest.mark.parametrize(("year", "outcome"), [(2026, "ok"), (2025, "ok"), (2024, "partial"), (2023, "partial"), (2022, "gap"), (None, "not applicable")])  # fmt: skip
def test_the_year_of_the_copyright_line(year: int | None, outcome: str) -> None:
    page = replace(PAGE, content=PageContent(copyright_year=year, copyright_words=f"© {year}"))
    assert run_checks({Pages: Pages(page)})["copyright_year"].outcome == outcome


@pytest.mark.parametrize(
    ("names", "outcome"),
    [
        ((("gull.example", "taken"), ("gull.test", "free")), "partial"), ((("gull.example", "taken"), ("gull.test", "unknown")), "unknown"),
        ((("gull.example", "taken"),), "ok"), ((), "not applicable"),
    ],
)  # fmt: skip
def test_names_as_domains(names: tuple[tuple[str, str], ...], outcome: str) -> None:
    evidence = {
        DomainNames: DomainNames(AT, names, "https://rdap.example/"),
        ListingFacts: ListingFacts("Gull", None, "s", AT),
    }
    assert run_checks(evidence)["name_domain"].outcome == outcome


@pytest.mark.parametrize(
    ("verdicts", "outcome"),
    [(("nothing there", "theirs"), "partial"), (("theirs", "undecided"), "partial"), (("nothing there", "undecided"), "unknown"), (("nothing there", "not theirs"), "gap"), ((), "unknown")],
)  # fmt: skip
def test_no_website_is_said_only_when_all_was_tried(verdicts: tuple[str, ...], outcome: str) -> None:
    tried = tuple(Candidate(f"https://{n}.example/", "by name", verdict, "x") for n, verdict in enumerate(verdicts))
    evidence = {ListingFacts: ListingFacts("Gull", None, "s", AT), SiteSearch: SiteSearch(AT, tried)}
    assert run_checks(evidence)["no_website_confirmed"].outcome == outcome


@pytest.mark.parametrize(
    ("found", "known", "outcome"), [(URL + "map.xml", True, "ok"), ("", True, "gap"), ("", False, "unknown")]
)
def test_sitemaps(found: str, known: bool, outcome: str) -> None:
    crawling = Crawling(URL, AT, False, URL + "robots.txt", found, known)
    assert run_checks({Crawling: crawling, Pages: Pages(PAGE)})["sitemap"].outcome == outcome
