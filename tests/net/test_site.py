"""Visits: every archetype of the coast over real HTTP and HTTPS, and sites that ask for what only a browser has."""

import asyncio
from collections.abc import Callable
from typing import Any
from urllib.parse import urlsplit

import pytest

from openacorn.core.audit.checks import email_found
from openacorn.core.audit.evidence import Crawl, Failure, TlsProblem
from openacorn.core.audit.finding import Outcome
from openacorn.net.client import Client
from openacorn.net.errors import FetchError
from openacorn.net.probes.notes import RawPage
from openacorn.net.probes.site import SiteProbe
from openacorn.settings import Settings, World
from tests.conftest import Coast
from tests.net.serving import serving


def visit(settings: Settings, url: str, *, seconds: float = 25) -> tuple[Crawl, tuple[RawPage, ...]]:
    async def run() -> tuple[Crawl, tuple[RawPage, ...]]:
        async with Client(settings, allow_private=settings.world is None) as client:
            return await SiteProbe(client, lambda _: "AU", seconds=seconds).visit(url)

    return asyncio.run(run())


def listed(coast: Coast, archetype: str) -> str:
    rows = coast.read("truth.json")["businesses"]
    return str(next(row["website"] for row in rows if row["archetype"] == archetype))


FAULTS = [
    ("nxdomain", Failure.NO_SUCH_NAME, None),
    ("refused", Failure.REFUSED, None),
    ("redirect_loop", Failure.REDIRECT_LOOP, None),
    ("robots", Failure.ROBOTS, None),
    ("forbidden", None, 403),
    ("error_404", None, 404),
    ("error_500", None, 500),
    ("modern", None, 200),
]


@pytest.mark.world
@pytest.mark.parametrize(("archetype", "failure", "status"), FAULTS, ids=[c[0] for c in FAULTS])
def test_where_a_visit_ends(coast: Coast, archetype: str, failure: Failure | None, status: int | None) -> None:
    crawl, pages = visit(coast.settings, listed(coast, archetype))
    assert (crawl.visit.failure, crawl.visit.status) == (failure, status)
    assert (crawl.pages is not None) == (status == 200) == bool(pages)
    assert crawl.visit.chain
    assert crawl.seconds > 0


@pytest.mark.world
@pytest.mark.parametrize(
    ("archetype", "problem"),
    [
        ("cert_expired", TlsProblem.EXPIRED),
        ("cert_wrong_name", TlsProblem.WRONG_NAME),
        ("cert_self_signed", TlsProblem.SELF_SIGNED),
        ("booking", None),
    ],
)
def test_a_bad_certificate_is_named_and_read_past(coast: Coast, archetype: str, problem: TlsProblem | None) -> None:
    rows = coast.read("truth.json")["businesses"]
    url = next(row["website"] for row in rows if row["archetype"] == archetype and row["website"].startswith("https"))
    crawl, _ = visit(coast.settings, url)
    assert crawl.visit.certificate is not None
    assert crawl.visit.certificate.problem is problem
    assert crawl.visit.certificate.issuer
    assert crawl.pages is not None
    if problem is not None:
        assert "certificate" in crawl.visit.certificate.detail


@pytest.mark.world
def test_a_bare_name_tries_https_then_plain_http(coast: Coast) -> None:
    host = listed(coast, "plain_http").removeprefix("http://").strip("/")
    crawl, _ = visit(coast.settings, host)
    assert crawl.visit.url == f"http://{host}/"
    assert crawl.visit.https_elsewhere is False


@pytest.mark.world
def test_a_redirect_to_another_domain_is_followed_and_kept(coast: Coast) -> None:
    crawl, _ = visit(coast.settings, listed(coast, "redirect_other"))
    first, *_, last = crawl.visit.chain
    assert first.startswith("https://go-") or first.startswith("http://go-")
    assert last == crawl.visit.url
    assert "go-" not in last


@pytest.mark.world
def test_sizes_are_asked_for_and_not_loaded(coast: Coast) -> None:
    crawl, pages = visit(coast.settings, listed(coast, "huge_home"))
    assert crawl.weights is not None
    assert sum(file.size or 0 for file in crawl.weights.files) > 4_000_000
    assert sum(len(page.body) for page in pages) < 100_000


@pytest.mark.world
def test_a_dead_name_server_is_not_a_dead_name(coast: Coast) -> None:
    assert coast.settings.world is not None
    silent = coast.settings.model_copy(update={"world": World(**{**coast.settings.world.model_dump(), "dns_port": 9})})
    assert visit(silent, listed(coast, "modern"), seconds=20)[0].visit.failure is Failure.DNS_UNAVAILABLE


Pages = dict[str, tuple[int, str, str]]
"""Path → status, extra header lines, body."""


def with_site(pages: Callable[[str], Pages], work: Callable[[str], Any]) -> tuple[Any, list[str]]:
    """Serve pages (given the site's own address) on loopback while `work` runs; return its result and the request heads."""
    heads: list[str] = []

    async def run() -> Any:
        async def serve(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
            head = (await reader.readuntil(b"\r\n\r\n")).decode()
            heads.append(head)
            path = head.split()[1]
            status, extra, body = pages(url).get(path, (404, "", ""))
            body = "" if head.startswith("HEAD") else body
            writer.write(
                f"HTTP/1.1 {status} X\r\nContent-Type: text/html\r\nContent-Length: {len(body)}\r\n{extra}Connection: close\r\n\r\n{body}".encode()
            )
            await writer.drain()

        async with serving(serve) as url:
            return await work(url)

    return asyncio.run(run()), heads


async def probed(url: str) -> Crawl:
    async with Client(Settings(), allow_private=True) as client:
        return (await SiteProbe(client, lambda _: "AU").visit(url))[0]


WORDS = "<p>" + "Kind care for cats and dogs. " * 10 + "</p>"


def test_a_cookie_set_on_the_way_is_carried_along() -> None:
    def pages(_: str) -> Pages:
        return {"/": (302, "Set-Cookie: seen=1; Path=/\r\nLocation: /home\r\n", ""), "/home": (200, "", WORDS)}

    crawl, heads = with_site(pages, probed)
    assert crawl.pages is not None
    assert any("Cookie: seen=1" in head for head in heads if head.startswith("GET /home"))


def test_a_page_that_sends_its_visitor_on_by_a_meta_element_is_followed() -> None:
    def pages(_: str) -> Pages:
        return {"/": (200, "", '<meta http-equiv="refresh" content="0; url=/en/">'), "/en/": (200, "", WORDS)}

    crawl, _ = with_site(pages, probed)
    assert crawl.visit.url.endswith("/en/")
    assert len(crawl.visit.chain) == 2


def test_inner_pages_are_chosen_by_their_words_read_within_robots_and_kept_on_the_host() -> None:
    def pages(url: str) -> Pages:
        links = '<a href="/kontakt">Kontakt</a><a href="/story">Our story</a><a href="/team">Team</a><a href="/contact.pdf">Contact</a>'
        return {
            "/": (200, "", WORDS + links + '<img src="/a.jpg">'),
            "/robots.txt": (200, "", "User-agent: *\nDisallow: /story\n"),
            "/kontakt": (200, "", "<p>jo@harbour.example</p>"),
        }

    crawl, heads = with_site(pages, probed)
    assert crawl.pages is not None
    assert [page.url.rsplit("/", 1)[1] for page in crawl.pages.inner] == ["kontakt"]
    assert [kind for kind, _ in crawl.pages.missed] == ["about"]
    assert not any(head.startswith(("GET /story", "GET /contact.pdf")) for head in heads)
    assert any(head.startswith("HEAD /a.jpg") for head in heads)


def test_an_inner_page_that_leads_elsewhere_is_left_and_one_that_fails_is_remembered() -> None:
    def pages(_: str) -> Pages:
        return {
            "/": (200, "", WORDS + '<a href="/contact">Contact</a><a href="/about">About</a>'),
            "/contact": (302, "Location: https://elsewhere.example/\r\n", ""),
            "/about": (500, "", ""),
        }

    crawl, _ = with_site(pages, probed)
    assert crawl.pages is not None
    assert crawl.pages.inner == ()
    assert [kind for kind, _ in crawl.pages.missed] == ["about"]


def test_when_robots_txt_fails_only_the_home_page_is_read() -> None:
    def pages(_: str) -> Pages:
        return {
            "/robots.txt": (503, "", ""),
            "/": (200, "", WORDS + '<a href="/contact">Contact</a>'),
            "/contact": (200, "", WORDS),
        }

    crawl, heads = with_site(pages, probed)
    assert crawl.pages is not None
    assert crawl.pages.missed
    assert not any(head.startswith("GET /contact") for head in heads)


def test_what_is_no_page_is_not_read_as_one() -> None:
    def pages(_: str) -> Pages:
        return {"/": (200, "Content-Type: application/pdf\r\n", "%PDF-1.7")}

    async def work(url: str) -> Crawl:
        return await probed(url)

    crawl, _ = with_site(pages, work)
    assert crawl.visit.status == 200


def test_the_guard_names_the_address_it_refused() -> None:
    async def run() -> str:
        async with Client(Settings()) as client:
            with pytest.raises(FetchError) as caught:
                await client.fetch("http://169.254.169.254/latest/meta-data/")
            return str(caught.value)

    assert "169.254.169.254 is not on the open internet" in asyncio.run(run())


@pytest.mark.parametrize(("most", "read", "cut"), [(5, 2, ""), (60, 12, ""), (7, 7, "stopped at 7 pages")])
def test_a_whole_site_is_read_by_its_links_up_to_a_limit(most: int, read: int, cut: str) -> None:
    many = "".join(f'<a href="/cats/{number}">{number}</a>' for number in range(8))

    def pages(url: str) -> Pages:
        return {
            "/robots.txt": (200, "", "User-agent: *\nDisallow: /shut\n"),
            "/": (200, "", WORDS + '<a href="/contact">Contact</a><a href="/cats#prices">Cats</a><a href="/a.zip">Forms</a>'),
            "/contact": (200, "", WORDS + '<a href="/">Home</a>'),
            "/cats": (200, "", WORDS + f'<a href="/cats/old">Old cats</a><a href="{url}/shut">x</a><a href="https://other.example/">o</a>'),
            "/cats/old": (200, "", WORDS + '<a href="/cats">Back</a><a href="/gone">Gone</a>' + many),
            **{f"/cats/{number}": (200, "", WORDS) for number in range(8)},
        }  # fmt: skip

    async def work(url: str) -> Crawl:
        async with Client(Settings(), allow_private=True) as client:
            return (await SiteProbe(client, lambda _: "AU").visit(url, pages=most))[0]

    crawl, heads = with_site(pages, work)
    assert crawl.pages is not None
    assert (len(crawl.pages.all), crawl.cut_short) == (read, cut)
    assert not any(head.startswith(("GET /shut", "GET /a.zip")) for head in heads)


@pytest.mark.parametrize("slow", ["/robots.txt", "/contact", "/about"])
def test_what_a_visit_had_no_time_for_is_not_missing(slow: str) -> None:
    """A visit that runs out of time at any of its steps says which pages it had not read, so that nothing is claimed for them."""
    page = b"<title>Harbour Vets</title><p>" + b"We look after animals, day and night. " * 20
    links = b'<a href="/contact">Contact</a> <a href="/about">About us</a>'

    async def serve(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        path = (await reader.readuntil(b"\r\n\r\n")).split(b" ")[1].decode()
        if path == slow and slow != "/robots.txt":
            await asyncio.sleep(30)
        if path == "/sitemap.xml" and slow == "/robots.txt":  # asked between the home page and the others
            await asyncio.sleep(30)
        body = page + (links if path == "/" else b"<p>hello@harbourvets.example</p>")
        status = b"404 Not Found" if path.endswith((".txt", ".xml", ".ico")) else b"200 OK"
        head = b"HTTP/1.1 %s\r\nContent-Type: text/html\r\nContent-Length: %d\r\nConnection: close\r\n\r\n"
        writer.write(head % (status, len(body)) + body)
        await writer.drain()

    async def run() -> Crawl:
        async with serving(serve) as url, Client(Settings(request_seconds=30), allow_private=True) as client:
            return (await SiteProbe(client, lambda _: "AU", seconds=2).visit(url))[0]

    crawl = asyncio.run(run())
    assert crawl.cut_short
    assert crawl.pages is not None
    read = {urlsplit(page.url).path for page in crawl.pages.inner}
    unread = {urlsplit(url).path for _, url in crawl.pages.missed}
    assert (read | unread, read & unread) == ({"/contact", "/about"}, set())
    assert email_found.evaluate(crawl.pages).outcome in {Outcome.OK, Outcome.UNKNOWN}
