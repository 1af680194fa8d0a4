"""Evidence drawn at random, every kind and every field of it, around the bounds that checks have; and what each check says of it.

`python -m tests.core.audit.drawn` writes `drawn.tsv` again: a line a check, with how often it gave each answer and a digest of
all that it said. A check that changes its mind or its words changes its line.
"""

import dataclasses
import hashlib
import random
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from typing import Any

from openacorn.core.audit.check import all_checks, run_check
from openacorn.core.audit.evidence import (
    Certificate,
    Destination,
    Failure,
    FileKind,
    Found,
    ListingFacts,
    PageContent,
    PageFacts,
    Pages,
    Rendered,
    SchemaItem,
    Subresource,
    TagHit,
    TlsProblem,
    Visit,
    Weighed,
    Weights,
)
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.finding import Outcome
from openacorn.core.audit.offsite import Candidate, Crawling, DomainNames, MailDomain, SiteSearch
from openacorn.core.audit.reputation import PROFILE, LocalRank, Reputation, SocialPage

FILE = Path(__file__).with_name("drawn.tsv")
COUNT = 700
AT = "2026-09-01T00:00:00+00:00"
HOSTS = ("gullvets.example", "heron.example", "gullvets.wixsite.com", "facebook.com", "gullvets.com.au")
SHORT, LONG = (
    "Gull Vets",
    "Kind care for cats and dogs in Port Ellery since the beginning, and for birds as well. " * 12,
)


class Draw:
    """Draws evidence of every kind from one source of chance."""

    def __init__(self, seed: int) -> None:
        self.rng = random.Random(seed)

    def one(self, *values: Any) -> Any:
        return self.rng.choice(values)

    def some(self, make: Callable[[], Any], most: int = 3) -> tuple[Any, ...]:
        return tuple(make() for _ in range(self.one(0, 0, *range(1, most + 1))))

    def near(self, *bounds: float) -> float:
        """A bound, or something next to it."""
        return round(float(self.one(*bounds)) + float(self.one(-1, -0.01, 0, 0.01, 1)), 2)

    def url(self) -> str:
        return f"{self.one('https', 'https', 'http')}://{self.one(*HOSTS)}/{self.one('', '', 'a', 'gull')}"

    def found(self, *values: str) -> Found:
        value = self.one(*values)
        return Found(value, f"here: {value} {LONG[: self.one(20, 300)]}", self.one("text", "link", "owner", "jsonld"))

    def visit(self) -> Visit:
        problem = self.one(None, None, None, *TlsProblem)
        ends = f"{self.one('2026-08-31', '2026-09-01', '2026-09-14', '2026-09-15', '2027-09-01')}T00:00:00+00:00"
        headers = (
            ("strict-transport-security", self.one("", "max-age=0", "max-age=15551999", "max-age=15552000")),
            ("content-encoding", self.one("", "gzip", "br", "identity")),
        )
        return Visit(
            self.url(), self.url(), AT, (), self.one(None, 200, 200, 200, 399, 400, 403, 500), self.one(None, None, None, *Failure),
            self.one("", "why it failed"), self.one(None, Certificate(problem, "why", "An issuer", self.one("", ends))),
            self.one(None, True, False), self.near(0.8, 1.8, 4.6), self.one(0.0, 0.0, 1.2), 0.1, 30_000, False, headers,
            self.one(None, True, False),
        )  # fmt: skip

    def page(self) -> PageFacts:
        return PageFacts(
            self.url(), AT, self.one(None, "", "Home", SHORT, "Gull Vets, Port Ellery", LONG[:71], LONG[:70], LONG), self.one(0, 1, 2),
            self.one(None, "", LONG[:49], LONG[:50], LONG[:320], LONG[:321]), self.one(None, "width=device-width", "width=1024", "initial-scale=1"),
            self.one(None, "en", "de-AT", "x"), self.one("", "en", "en", "de", "xx"), self.one(None, "", "Quillpress 3.9.2", "Wix.com Website Builder"),
            headings=self.some(lambda: (self.one(1, 2, 3, 4), self.one("", SHORT, LONG[:40])), 4), images=self.one(0, 1, 2, 4),
            images_without_alt=self.some(lambda: "<img src=a>", 4), words=int(self.near(60, 150, 250, 300)), text_start=self.one("", LONG[:300]),
            app_root=self.one(None, None, None, '<div id="root">'), frames=self.one((), (), (), ("a.htm",)),
            tags=self.some(lambda: TagHit(self.one("Google Analytics 4", "Matomo", "Meta", "Google Ads", "LinkedIn", "Wix", "Cookiebot"), str(self.one(*TagKind)), "tag"), 4),
            strangers=self.one((), (), ("https://js.tally.example/a.js",)), counting=self.one("", "", "/count.gif"),
            emails=self.some(lambda: self.found("jo@gullvets.example")), phones=self.some(lambda: self.found("+61355501234", "+61355509999")),
            phone_like=self.one((), (), ("(555) 555-1234",)), socials=self.some(lambda: self.found("https://facebook.com/gullvets", "https://facebook.com/wix")),
            schema_types=self.some(lambda: self.found("LocalBusiness", "Organization", "WebSite")), schema_broken=self.one((), (), ("{",)),
            script_count=self.one(0, 1, 9), placeholder=self.one(None, None, None, "parked", "coming soon"), placeholder_snippet="for sale",
            html_bytes=int(self.near(1400)), site_name=self.one("", SHORT, "Heron"), content=self.content(),
        )  # fmt: skip

    def content(self) -> PageContent:
        def item() -> SchemaItem:
            names = ("name", "address", "telephone", "geo", "url", "image")
            return SchemaItem("LocalBusiness", "jsonld", self.some(lambda: self.one(*names), 6))

        return PageContent(
            text=self.one("", LONG, "14 Mill Lane, Port Ellery. Call (03) 5550 1234"), prose=self.one("", LONG, LONG * 2), robots=self.one("", "noindex", "index"),
            canonical=self.one(None, self.url()), insecure=self.some(lambda: "http://a.example/x.js"), contact_form=self.one("", "<form>"),
            form_perhaps=self.one("", "", "<form>"), videos=self.some(lambda: self.found("youtube")), copyright_year=self.one(None, 2022, 2023, 2024, 2025, 2026),
            copyright_words="© then", dated=self.some(lambda: "<font>"), fixed_px=self.one(0, 0, 980), fixed_by="<table width=980>",
            hours=self.one("", "Mon–Fri 9–5"), cookie_words=self.one("", "", LONG[:200]), strange_frame=self.one("", "", "https://f.example/"),
            people=self.some(lambda: self.found("Ada Gull")), items=self.some(item, 2),
            actions=self.some(lambda: Found(self.one("Book", "Cart", "Privacy"), self.url(), self.one("booking", "shop", "privacy"))),
        )  # fmt: skip

    def file(self) -> Weighed:
        size = self.one(None, 0, 1400, 299_999, 300_000, 699_999, 700_000, 1_600_000)
        kept = self.one(None, 0, 86_399, 86_400)
        return Weighed(self.url() + "f", self.one(*FileKind), self.one(True, False), size, kept, self.one(True, False))

    def lost(self) -> Subresource:
        return Subresource(self.url() + "f", self.one(FileKind.STYLE, FileKind.SCRIPT), True)

    def all(self) -> dict[type, object]:
        """An evidence set with everything in it."""
        rank, shares = self.one(None, 1, 3, 4, 20, 21), (None, 0.1, 0.249, 0.25, 0.49, 0.5, 0.9)
        listing = ListingFacts(
            self.one(SHORT, "Heron & Sons Vets"), self.one(None, self.url(), self.url()), "a listing", AT, None, self.one("", "+61355501234"),
            self.one("", "14 Mill Lane"), self.one("", "Port Ellery"), self.one("", "vets"),
        )  # fmt: skip
        home = self.page()
        names = tuple((f"gull{n}.example", self.one("free", "taken", "unknown")) for n in range(self.one(0, 1, 3, 9)))
        return {
            ListingFacts: listing, Visit: self.visit(), PageFacts: home, Destination: Destination(self.url(), AT),
            Pages: Pages(home, self.some(self.page, 2), self.one((), (), (("contact", self.url()),)), self.one(False, False, True), unread=self.one((), (), ("/app.js",))),
            Weights: Weights(int(self.near(1400, 30_000)), self.some(self.file, 6), self.one(0, 0, 1)),
            Rendered: Rendered(self.url(), AT, None, self.one(0.0, 2.0, 2.1, 3.0, 3.1), 1.0, self.one(3.0, 3.1), 390, self.one(390, 394, 395, 980), self.one(1.0, 1.0, 0.9, 0.4), lost=self.some(self.lost, 1)),
            Crawling: Crawling(self.url(), AT, self.one(True, False), "robots.txt", self.one("", "/sitemap.xml"), self.one(True, False)),
            MailDomain: MailDomain(self.one(*HOSTS), AT, self.one((), (".",), ("mx1", "mx2", "mx3", "mx4")), self.one((), ("v=spf1 -all",), ("v=spf1 ~all",), ("v=spf1 +all",), ("v=spf1 a",)), self.one((), ("v=DMARC1; p=none",), ("v=DMARC1; p=reject; pct=99",), ("v=DMARC1; p=reject",))),
            SiteSearch: SiteSearch(AT, self.some(lambda: Candidate(self.url(), "by name", self.one("theirs", "not theirs", "nothing there", "undecided"), "x"), 8)),
            DomainNames: DomainNames(AT, names, "https://rdap.example/"),
            LocalRank: LocalRank("s", AT, "vets", "Port Ellery", rank, 60),
            Reputation: Reputation("s", AT, self.one(None, 0, 4, 5, 40), self.one(None, 3.4, 3.5, 4.1, 4.2, 5.0), self.one(None, True, False), self.one(None, 0, 1, 4, 5), PROFILE[: self.one(0, 1, 2, 3)], PROFILE, 25, self.one(*shares), self.one(*shares), self.one(("a",), ("a", "b")), self.some(lambda: "phone: 1 / 2")),
            SocialPage: SocialPage(self.url(), AT, self.one(None, 120), self.one("", "2026-07-03", "2026-07-02", "2026-03-05", "2026-03-04"), self.one(None, True, False)),
        }  # fmt: skip


def lines() -> list[str]:
    """The file: check, how often it gave each outcome, a digest of everything it said."""
    drawn = [Draw(number).all() for number in range(COUNT)]
    found = ["\t".join(("check", *(str(outcome) for outcome in Outcome), "digest"))]
    for check in sorted(all_checks(), key=lambda item: item.id):
        findings = [run_check(check, evidence) for evidence in drawn]
        assert not any(finding.crashed for finding in findings), check.id
        counts = Counter(finding.outcome for finding in findings)
        said = "\n".join(repr(dataclasses.asdict(finding)) for finding in findings)
        digest = hashlib.sha256(said.encode()).hexdigest()[:12]
        found.append("\t".join((check.id, *(str(counts[outcome]) for outcome in Outcome), digest)))
    return found


if __name__ == "__main__":
    FILE.write_text("\n".join(lines()) + "\n", encoding="utf-8")
