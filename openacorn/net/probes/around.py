"""What lies around a page: does its other scheme work, where is its sitemap, what do its files weigh."""

import re
from collections.abc import Mapping
from dataclasses import replace
from datetime import UTC, datetime
from email.utils import parsedate_to_datetime
from urllib.parse import urljoin, urlsplit

from openacorn.clock import now
from openacorn.core.audit.address import host_of
from openacorn.core.audit.evidence import Failure, FileKind, PageFacts, Weighed, Weights
from openacorn.core.audit.offsite import Crawling
from openacorn.net.client import SENT_ON, Answer, Client
from openacorn.net.errors import FetchError
from openacorn.net.probes.robots import Robots

SITEMAPS = ("/sitemap.xml", "/sitemap_index.xml", "/wp-sitemap.xml")
"""Where sitemaps lie: the protocol's own example (sitemaps.org), and what large site builders write (common practice)."""

WEIGHED_FILES = 12
"""Files whose size is asked for, blocking ones first; beyond that the load time is a lower bound."""


async def https_works(client: Client, url: str) -> bool | None:
    """Does HTTPS work where a page came in the clear? None where the try does not tell."""
    secure = "https://" + url.removeprefix("http://")
    try:
        await client.fetch(secure, method="HEAD", seconds=client.brief_s)
    except FetchError as error:
        if error.failure in {Failure.TLS, Failure.REFUSED, Failure.PROTOCOL, Failure.UNREACHABLE}:
            return False
        return None
    return True


async def sent_to_https(client: Client, url: str, came_by: str) -> bool | None:
    """Are visitors of the plain address sent to the secure one? None where nothing answers in the clear."""
    plain = "http://" + host_of(url) + "/"
    if came_by.startswith("http://") and host_of(came_by) == host_of(url):
        return True  # that is the way we came
    if urlsplit(url).port is not None:
        return None
    try:
        answer = await client.fetch(plain, seconds=client.brief_s, max_body=20_000)
    except FetchError:
        return None
    if answer.status in SENT_ON:
        return urljoin(plain, answer.headers.get("location", "")).startswith("https://")
    return False if answer.status < 400 else None


async def find_sitemap(client: Client, crawling: Crawling, robots: Robots, *, verify: bool) -> Crawling:
    """The sitemap that robots.txt names, else the one at a usual address; an address that cannot be asked leaves it open."""
    if robots.sitemaps:
        return replace(crawling, sitemap=robots.sitemaps[0], sitemap_known=True)
    base = "/".join(crawling.url.split("/")[:3])
    for there in (base + path for path in SITEMAPS):
        listed = await _is_sitemap(client, there, verify=verify) if robots.known and robots.allows(there) else None
        if listed is None:
            return crawling
        if listed:
            return replace(crawling, sitemap=there, sitemap_known=True)
    return replace(crawling, sitemap_known=True)


async def _is_sitemap(client: Client, there: str, *, verify: bool) -> bool | None:
    """Is there a sitemap at an address? None where that cannot be known."""
    try:
        answer = await client.fetch(there, verify=verify, seconds=client.brief_s, max_body=20_000)
        if answer.status in SENT_ON and answer.headers.get("location"):
            onward = urljoin(there, answer.headers["location"])
            answer = await client.fetch(onward, verify=verify, seconds=client.brief_s, max_body=20_000)
    except FetchError:
        return None
    if answer.status >= 500 or answer.status in {401, 403, 429}:
        return None
    return answer.status == 200 and any(word in answer.body[:4000] for word in (b"<urlset", b"<sitemapindex"))


async def weigh(
    client: Client, home: PageFacts, html_bytes: int, robots: Robots, answers: Mapping[str, Answer], *, verify: bool
) -> Weights:
    """Ask for the sizes of the files the page loads, without loading them, except those whose answers are there already. Only
    hosts that robots.txt was read of."""
    weighed: list[Weighed] = []
    host = urlsplit(home.url).hostname
    wanted = home.subresources[:WEIGHED_FILES]
    for item in wanted:
        size, kept, asked = None, None, False
        if urlsplit(item.url).hostname == host and robots.allows(item.url):
            size, kept, asked = await _size(client, item.url, answers.get(item.url), verify)
        weighed.append(Weighed(item.url, FileKind(item.kind), item.blocking, size, kept, asked))
    return Weights(html_bytes, tuple(weighed), len(home.subresources) - len(wanted))


async def _size(client: Client, url: str, answer: Answer | None, verify: bool) -> tuple[int | None, int | None, bool]:
    """(bytes, seconds that browsers may keep the file, was there an answer?)."""
    try:
        answer = answer or await client.fetch(url, method="HEAD", verify=verify, seconds=client.brief_s)
    except FetchError:
        return None, None, False
    length = answer.headers.get("content-length", "")
    size = int(length) if length.isdigit() else answer.wire_bytes or None
    size = size if answer.status == 200 and not (answer.truncated and not length) else None
    return size, kept_seconds(answer.headers), answer.status == 200


def kept_seconds(headers: Mapping[str, str]) -> int | None:
    """How long a browser may use its copy without asking (RFC 9111, 4.2.1 and 5.2.2); None if the answer does not say."""
    policy = headers.get("cache-control", "").lower()
    if "no-store" in policy or "no-cache" in policy:
        return 0
    age = re.search(r"max-age=(\d+)", policy)
    if age:
        return int(age.group(1))
    if "expires" in headers:
        until, dated = (_date(headers.get(name, "")) for name in ("expires", "date"))
        return max(0, int((until - (dated or now())).total_seconds())) if until else 0
    return None


def _date(text: str) -> datetime | None:
    try:
        found = parsedate_to_datetime(text)
    except ValueError:
        return None
    return found if found.tzinfo else found.replace(tzinfo=UTC)
