"""Sitemaps: named in robots.txt, or at one of the usual addresses; a server that cannot tell leaves it open."""

import asyncio

import pytest

from openacorn.core.audit.offsite import Crawling
from openacorn.net.client import Client
from openacorn.net.probes.around import find_sitemap
from openacorn.net.probes.robots import Robots
from openacorn.settings import Settings
from tests.net.serving import serving

MAP = b'<?xml version="1.0"?><urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9"></urlset>'
INDEX = b'<sitemapindex xmlns="http://www.sitemaps.org/schemas/sitemap/0.9"></sitemapindex>'
CASES = [
    ("the first name", {"/sitemap.xml": (200, MAP)}, "/sitemap.xml", True),
    ("an index", {"/sitemap_index.xml": (200, INDEX)}, "/sitemap_index.xml", True),
    ("a blog's own", {"/wp-sitemap.xml": (200, INDEX)}, "/wp-sitemap.xml", True),
    ("a page for everything", {"": (200, b"<h1>Welcome</h1>")}, "", True),
    ("none", {}, "", True),
    ("turned away at the second", {"/sitemap_index.xml": (403, b"")}, "", False),
    ("broken at the first", {"/sitemap.xml": (500, b"")}, "", False),
]


@pytest.mark.parametrize(("files", "expected", "known"), [case[1:] for case in CASES], ids=[case[0] for case in CASES])
def test_where_a_sitemap_is(files: dict[str, tuple[int, bytes]], expected: str, known: bool) -> None:
    async def answer(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        path = (await reader.readuntil(b"\r\n\r\n")).split()[1].decode()
        status, body = files.get(path) or files.get("") or (404, b"no")
        writer.write(f"HTTP/1.1 {status} X\r\nContent-Length: {len(body)}\r\nConnection: close\r\n\r\n".encode() + body)
        await writer.drain()

    async def run() -> tuple[str, str, bool]:
        async with serving(answer) as base, Client(Settings(), allow_private=True) as client:
            found = await find_sitemap(
                client,
                Crawling(base + "/", "2026-09-01", False),
                Robots("User-agent: *\nDisallow: /private/\n"),
                verify=True,
            )
            return base, found.sitemap, found.sitemap_known

    base, found, told = asyncio.run(run())
    assert (found.removeprefix(base), told) == (expected, known)
