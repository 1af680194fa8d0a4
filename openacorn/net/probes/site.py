"""Visit a site: open the listed address as a browser would, read the pages that matter, weigh what they load.

One connection at a time, robots.txt obeyed, everything within one budget of time.
"""

import asyncio
import time
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from urllib.parse import urljoin, urlsplit

from openacorn.clock import utc_now
from openacorn.core.audit.address import AddressError, clean_url, host_of
from openacorn.core.audit.evidence import Certificate, Crawl, Failure, PageFacts, Pages, TlsProblem, Visit
from openacorn.core.audit.extract.decode import decode_html
from openacorn.core.audit.extract.libraries import may_carry_tags
from openacorn.core.audit.extract.links import site_links
from openacorn.core.audit.extract.page import read_page
from openacorn.core.audit.hosts import borrowed
from openacorn.core.audit.offsite import Crawling
from openacorn.net.client import SENT_ON, Answer, Client
from openacorn.net.errors import FetchError
from openacorn.net.probes.around import find_sitemap, https_works, sent_to_https, weigh
from openacorn.net.probes.domains import mail_domain
from openacorn.net.probes.notes import RawPage, VisitNotes
from openacorn.net.probes.robots import Robots, read_robots
from openacorn.net.probes.scripts import read_own_scripts
from openacorn.net.tls import judged

MAX_REDIRECTS = 10
INNER_PAGES = 4
AUDIT_SECONDS = 25.0
SECONDS_A_PAGE = 1.0
"""Time on top for each page beyond the usual ones."""

RETRY_AFTER_S = 0.5
TRIED_TWICE = frozenset({Failure.TIMEOUT, Failure.PROTOCOL, Failure.DNS_UNAVAILABLE, Failure.BUSY})
"""Failures that pass by themselves often enough that one try does not decide."""

KEPT_HEADERS = (
    "strict-transport-security",
    "content-encoding",
    "cache-control",
    "x-robots-tag",
    "server",
    "x-powered-by",
)
HTML_TYPES = ("text/html", "application/xhtml", "text/plain", "")


@dataclass(slots=True)
class _Way:
    """The way from the listed address to the page: what is known of it so far."""

    asked: str
    chain: list[str] = field(default_factory=list)
    cookies: dict[str, str] = field(default_factory=dict)
    verify: bool = True
    certificate: Certificate | None = None
    robots: dict[str, Robots] = field(default_factory=dict)


class SiteProbe:
    """Visits sites with one client. `region_of` tells in which country's format the phone numbers at a host are written, None
    where the host does not tell; `home` is the country to fall back on."""

    def __init__(
        self,
        client: Client,
        region_of: Callable[[str], str | None],
        *,
        home: str | None = None,
        seconds: float = AUDIT_SECONDS,
    ) -> None:
        self._client = client
        self._region_of, self._home = region_of, home
        self._seconds = seconds

    async def visit(
        self, listed: str, *, deep: bool = True, pages: int = 1 + INNER_PAGES, region: str | None = None
    ) -> tuple[Crawl, tuple[RawPage, ...]]:
        """Return all that one visit brings home. Never raises for what a site does: that is the result.

        `deep`: read inner pages too; else they are noted as not read, so that nothing is called missing for it. `pages`: most
        pages to read; beyond those that matter, every page that one links to, with more time for them. `region`: ISO 3166
        code of the business's country, None where it is not known.
        """
        started = time.monotonic()
        seconds = self._seconds + SECONDS_A_PAGE * max(0, pages - 1 - INNER_PAGES)
        notes = VisitNotes(
            Visit(listed, listed, utc_now(), failure=Failure.TIMEOUT, detail="the whole visit ran out of time"), region
        )
        try:
            async with asyncio.timeout(seconds):
                await self._visit(listed, notes, deep=deep, most=pages)
        except TimeoutError:
            notes.cut_short = f"stopped after {seconds:g} s"
            if notes.visit.failure is Failure.TIMEOUT and self._client.pulse.is_ours(started):
                notes.visit = replace(notes.visit, failure=Failure.BUSY)
        read = None
        if notes.home is not None:
            unread = notes.home.own_scripts if notes.unread is None else notes.unread
            unread = tuple(url for url in unread if may_carry_tags(url))
            read = Pages(notes.home, tuple(notes.inner), tuple(notes.missed), scripts=notes.scripts, unread=unread)
        took = time.monotonic() - started
        crawl = Crawl(notes.visit, read, notes.weights, took, notes.cut_short, notes.crawling, notes.mail)
        return crawl, tuple(notes.raw)

    async def _visit(self, listed: str, notes: "VisitNotes", *, deep: bool, most: int) -> None:
        at = utc_now()
        try:
            url = clean_url(listed)
        except AddressError as error:
            notes.visit = Visit(listed, listed, at, failure=Failure.BAD_ADDRESS, detail=str(error))
            return
        way = _Way(url)
        try:
            answer, robots = await self._open(way, bare="://" not in listed)
        except FetchError as error:
            notes.visit = _failed(way, at, error)
            notes.crawling = _rules_at(way, notes.visit.url, at)
            return
        notes.visit = Visit(
            asked=listed,
            url=answer.url,
            at=at,
            chain=tuple(way.chain),
            status=answer.status,
            certificate=way.certificate,
            wait_s=answer.wait_s,
            lost_s=answer.lost_s,
            connect_s=answer.connect_s,
            wire_bytes=answer.wire_bytes,
            truncated=answer.truncated,
            headers=tuple((name, answer.headers[name][:300]) for name in KEPT_HEADERS if name in answer.headers),
        )
        notes.crawling = _rules_at(way, answer.url, at)
        readable = answer.status < 400 and answer.headers.get("content-type", "").startswith(HTML_TYPES)
        if readable:
            notes.home = self._read(answer, notes)  # first, so that what is slow after it cannot cost us the page
            notes.missed += notes.home.inner_links[
                :INNER_PAGES
            ]  # until each was read: the time may end at any step from here on
        if answer.url.startswith("http://") and urlsplit(answer.url).port is None:
            notes.visit = replace(notes.visit, https_elsewhere=await https_works(self._client, answer.url))
        elif answer.url.startswith("https://"):
            notes.visit = replace(
                notes.visit, sent_to_https=await sent_to_https(self._client, answer.url, way.chain[0])
            )
        if answer.status < 400 and not borrowed(host_of(answer.url)):
            notes.mail = await mail_domain(self._client, host_of(answer.url), at)
        if notes.crawling is not None and answer.status < 400:
            notes.crawling = await find_sitemap(self._client, notes.crawling, robots, verify=way.verify)
        if notes.home is not None:
            if deep:
                await self._inner(notes, robots, way)
                if most > 1 + INNER_PAGES:
                    await self._rest(notes, robots, way, most)
            await self._around(notes, answer, robots, way)

    async def _around(self, notes: "VisitNotes", answer: Answer, robots: Robots, way: _Way) -> None:
        """The scripts of the site's own, and what the page's files weigh."""
        assert notes.home is not None
        host = host_of(answer.url)
        found = await read_own_scripts(
            self._client,
            [notes.home, *notes.inner],
            lambda url: host_of(url) == host and robots.allows(url),
            verify=way.verify,
        )
        notes.scripts, notes.unread = found.scripts, found.unread
        notes.weights = await weigh(
            self._client, notes.home, answer.wire_bytes, robots, found.answers, verify=way.verify
        )

    async def _open(self, way: _Way, *, bare: bool) -> tuple[Answer, Robots]:
        """Reach the page: HTTPS first for a bare name, plain HTTP if nobody listens there; passing failures tried twice."""
        try:
            return await self._follow_twice(way, way.asked)
        except FetchError as error:
            nobody_listens = error.failure in {Failure.REFUSED, Failure.TIMEOUT, Failure.UNREACHABLE}
            if not (bare and nobody_listens and len(way.chain) <= 1):
                raise
            way.chain.clear()
            return await self._follow_twice(way, "http://" + way.asked.removeprefix("https://"))

    async def _follow_twice(self, way: _Way, url: str) -> tuple[Answer, Robots]:
        try:
            return await self._follow(way, url)
        except FetchError as error:
            if error.failure not in TRIED_TWICE:
                raise
        await asyncio.sleep(RETRY_AFTER_S)
        way.chain.clear()
        return await self._follow(way, url)

    async def _follow(self, way: _Way, url: str) -> tuple[Answer, Robots]:
        robots = way.robots
        while True:
            if url in way.chain or len(way.chain) >= MAX_REDIRECTS:
                raise FetchError(Failure.REDIRECT_LOOP, " → ".join([*way.chain[-3:], url]))
            way.chain.append(url)
            origin = "/".join(url.split("/")[:3])
            if origin not in robots:
                robots[origin] = read_robots(await self._hop(way, origin + "/robots.txt"))
            if not robots[origin].allows(url):
                raise FetchError(Failure.ROBOTS, f"{origin}/robots.txt does not let {url} be read")
            answer = await self._hop(way, url)
            location = answer.headers.get("location")
            redirected = answer.status in SENT_ON and location
            target = urljoin(url, location or "") if redirected else self._refresh(answer)
            if not target:
                return answer, robots[origin]
            way.cookies.update(answer.cookies)
            url = target.split("#")[0]

    def _refresh(self, answer: Answer) -> str | None:
        """A page that sends its visitor on by a meta element instead of a redirect."""
        if answer.status >= 400 or len(answer.body) > 5000 or b"http-equiv" not in answer.body.lower():
            return None
        text, _ = decode_html(answer.body, answer.headers.get("content-type", ""))
        target = read_page(text, answer.url, "").refresh_to
        return target if target and target != answer.url else None

    async def _hop(self, way: _Way, url: str) -> Answer:
        """One request; behind a bad certificate, note it and read on as a determined visitor would."""
        headers = {"Cookie": "; ".join(f"{name}={value}" for name, value in way.cookies.items())} if way.cookies else {}
        try:
            answer = await self._client.fetch(url, headers=headers, verify=way.verify)
        except FetchError as error:
            if error.failure is not Failure.TLS or not way.verify:
                raise
            if error.tls is TlsProblem.HANDSHAKE:
                way.certificate = judged(None, error.tls, error.detail)
                raise
            way.verify = False
            answer = await self._client.fetch(url, headers=headers, verify=False)
            way.certificate = judged(answer.certificate, error.tls or TlsProblem.UNTRUSTED, error.detail)
            return answer
        if way.verify and answer.certificate is not None:
            way.certificate = answer.certificate
        return answer

    def _read(self, answer: Answer, notes: "VisitNotes") -> PageFacts:
        content_type = answer.headers.get("content-type", "")
        text, fault = decode_html(answer.body, content_type)
        at = utc_now()
        notes.raw.append(RawPage(answer.url, at, content_type, answer.body))
        region = notes.region or self._region_of(host_of(answer.url))
        facts = read_page(text, answer.url, at, region, answer.wire_bytes, self._home)
        return replace(facts, charset_problem=fault) if fault else facts

    async def _inner(self, notes: "VisitNotes", robots: Robots, way: _Way) -> None:
        assert notes.home is not None
        for link in notes.home.inner_links[:INNER_PAGES]:
            if await self._inner_page(link[1], notes, robots, way):
                notes.missed.remove(link)

    async def _inner_page(self, url: str, notes: "VisitNotes", robots: Robots, way: _Way) -> bool:
        """Read one more page of the site; False for one that is there, as far as we know, and could not be read."""
        if robots.home_only or not robots.allows(url):
            return False
        try:
            answer = await self._client.fetch(url, verify=way.verify)
            location = answer.headers.get("location")
            if answer.status in SENT_ON and location:
                target = urljoin(url, location)
                if urlsplit(target).hostname != urlsplit(url).hostname:
                    return True
                answer = await self._client.fetch(target, verify=way.verify)
        except FetchError:
            return False
        if answer.status < 400 and answer.headers.get("content-type", "").startswith(HTML_TYPES):
            notes.inner.append(self._read(answer, notes))
            return True
        return answer.status in {404, 410}

    async def _rest(self, notes: "VisitNotes", robots: Robots, way: _Way, most: int) -> None:
        """Follow every link of the pages read, breadth first, until `most` pages are read or nothing is left."""
        tried = {page.url for page in notes.raw} | {url for _, url in notes.missed}
        read = 0
        while len(notes.raw) < most and read < len(notes.raw):
            page = notes.raw[read]
            read += 1
            for url in site_links(decode_html(page.body, page.content_type)[0], page.url):
                if url in tried:
                    continue
                tried.add(url)
                if not await self._inner_page(url, notes, robots, way):
                    notes.missed.append(("page", url))
                if len(notes.raw) >= most:
                    notes.cut_short = notes.cut_short or f"stopped at {most} pages"
                    return


def _rules_at(way: _Way, url: str, at: str) -> Crawling | None:
    """What the rules for robots that were read on the way say of the page they led to."""
    origin = "/".join(url.split("/")[:3])
    robots = way.robots.get(origin)
    if robots is None or not robots.known:
        return None
    return Crawling(url, at, robots.bars_search(url), f"{origin}/robots.txt")


def _failed(way: _Way, at: str, error: FetchError) -> Visit:
    certificate = way.certificate
    if error.failure is Failure.TLS and error.tls and certificate is None:
        certificate = judged(None, error.tls, error.detail)
    url = way.chain[-1] if way.chain else way.asked
    return Visit(
        way.asked, url, at, tuple(way.chain), failure=error.failure, detail=error.detail, certificate=certificate
    )
