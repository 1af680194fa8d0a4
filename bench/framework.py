"""The same facts by a general-purpose crawling framework: Scrapy's own downloader, scheduler and selectors."""

import json
import re
import sys
import time
from collections.abc import Iterator
from typing import Any, ClassVar
from urllib.parse import urlsplit

import scrapy
from scrapy.crawler import CrawlerProcess
from scrapy.resolver import dnscache

INNER = (re.compile(r"contact|find[ -_]us", re.I), re.compile(r"about|who we are|our[ -_]story", re.I))
EMAIL = re.compile(r"[\w.+-]+@[\w-]+\.[\w.-]+")
PHONE = re.compile(r"(?:\+61|\(?0\d\)?)[\d\s()-]{7,14}\d")
TAGS = {
    "ga": re.compile(r"gtag/js\?id=G-|analytics\.js|matomo\.js|plausible\.io"),
    "gtm": re.compile(r"googletagmanager\.com/gtm\.js"),
    "meta": re.compile(r"fbevents\.js"),
    "ads": re.compile(r"AW-\d+"),
    "linkedin": re.compile(r"snap\.licdn\.com"),
    "tiktok": re.compile(r"analytics\.tiktok\.com"),
    "microsoft": re.compile(r"bat\.bing\.com"),
    "pinterest": re.compile(r"pinimg\.com/ct"),
    "consent": re.compile(r"consent\.cookiebot\.com"),
}
SOCIAL = re.compile(r"facebook\.com|instagram\.com|linkedin\.com|youtube\.com|tiktok\.com|x\.com|pinterest\.com")
FILES = 12


ACTIONS = {
    "booking": re.compile(r"book (?:now|online|an appointment)|appointment", re.I),
    "shop": re.compile(r"add to cart|basket|checkout|shop online", re.I),
    "chat": re.compile(r"live chat|chat with us", re.I),
    "privacy": re.compile(r"privacy", re.I),
}
VIDEO = re.compile(r"youtube\.com/embed|player\.vimeo\.com", re.I)
YEAR = re.compile(r"(?:©|&copy;|copyright)\D{0,20}(\d{4})", re.I)
HOURS = re.compile(r"\b(?:mon|tue|wed|thu|fri|sat|sun)\w*\b[^\n]{0,20}\d{1,2}(?::\d{2})?\s*(?:am|pm)?", re.I)
ROLE = re.compile(r"([A-Z][\w'’-]+ [A-Z][\w'’-]+),?\s+(?:the |our )?(owner|founder|director|manager|principal)", re.I)
SENTENCE = re.compile(r"[.!?]+\s")
VOWELS = re.compile(r"[aeiouy]+")
DATED = "font, center, marquee, blink, frame, table table, [bgcolor]"


def _reading_ease(text: str) -> float:
    words = re.findall(r"[A-Za-z]+", text)[:1500]
    sentences = max(1, len(SENTENCE.findall(text)))
    syllables = sum(max(1, len(VOWELS.findall(word.lower()))) for word in words)
    return 206.835 - 1.015 * len(words) / sentences - 84.6 * syllables / max(1, len(words))


def _more(response: Any, text: str, links: list[str]) -> dict[str, Any]:
    """The facts of the content, layout and search checks."""
    words = " ".join(response.css("a, button").xpath("string()").getall())
    insecure = response.css('img[src^="http:"], script[src^="http:"], link[rel=stylesheet][href^="http:"]')
    return {
        "robots": response.css('meta[name="robots"]::attr(content)').get(),
        "canonical": response.css('link[rel="canonical"]::attr(href)').get(),
        "insecure": len(insecure) if response.url.startswith("https:") else 0,
        "form": bool(response.css("form textarea, form input[type=email], form input[name*=mail]")),
        "videos": [src for src in response.css("video, iframe").css("::attr(src)").getall() if VIDEO.search(src)],
        "actions": [
            name for name, pattern in ACTIONS.items() if pattern.search(words) or any(map(pattern.search, links))
        ],
        "year": YEAR.findall(text)[-1:],
        "hours": HOURS.findall(text)[:1],
        "people": ROLE.findall(text)[:12],
        "reading_ease": _reading_ease(" ".join(response.css("p").xpath("string()").getall())),
        "dated": len(response.css(DATED)),
        "fixed": response.css("body > [width]::attr(width), body > * > [width]::attr(width)").getall(),
        "properties": [node.attrib["itemprop"] for node in response.css("[itemprop]")],
        "favicon": response.css('link[rel*="icon"]::attr(href)').get(),
        "frames": response.css("frame::attr(src), iframe::attr(src)").getall(),
        "site_name": response.css('meta[property="og:site_name"]::attr(content)').get(),
    }


def facts_of(response: Any) -> dict[str, Any]:
    """What the checks ask of a page, by the framework's selectors."""
    text = " ".join(response.xpath("//body//text()[not(parent::script or parent::style)]").getall())
    scripts = " ".join(response.css("script::text").getall() + response.css("script::attr(src)").getall())
    types = []
    for block in response.css('script[type="application/ld+json"]::text').getall():
        try:
            types.append(str(json.loads(block).get("@type")))
        except (ValueError, AttributeError):
            types.append("broken")
    images = response.css("img")
    links = response.css("a::attr(href)").getall()
    return {
        "title": response.css("title::text").get(),
        "description": response.css('meta[name="description"]::attr(content)').get(),
        "viewport": response.css('meta[name="viewport"]::attr(content)').get(),
        "language": response.css("html::attr(lang)").get(),
        "generator": response.css('meta[name="generator"]::attr(content)').get(),
        "headings": [(node.root.tag, node.xpath("string()").get()) for node in response.css("h1,h2,h3,h4,h5,h6")],
        "images": len(images),
        "without_alt": sum(1 for image in images if "alt" not in image.attrib),
        "words": len(text.split()),
        "tags": [name for name, pattern in TAGS.items() if pattern.search(scripts)],
        "emails": EMAIL.findall(text) + [link[7:] for link in links if link.startswith("mailto:")],
        "phones": PHONE.findall(text) + [link[4:] for link in links if link.startswith("tel:")],
        "socials": [link for link in links if SOCIAL.search(link)],
        "types": types + response.css("[itemtype]::attr(itemtype)").getall(),
        **_more(response, text, links),
    }


class SiteSpider(scrapy.Spider):  # type: ignore[misc]
    """Home page, up to two inner pages, and the sizes of up to twelve files."""

    name = "sites"
    sites: ClassVar[list[str]] = []
    read = 0

    async def start(self) -> Any:
        """One request a site."""
        for url in self.sites:
            yield scrapy.Request(url, self.home)

    def home(self, response: Any) -> Iterator[Any]:
        """Facts of the home page, then its inner pages and files."""
        type(self).read += 1
        yield facts_of(response)
        links = [(anchor.attrib.get("href", ""), anchor.xpath("string()").get() or "") for anchor in response.css("a")]
        for pattern in INNER:
            target = next((href for href, text in links if pattern.search(text) or pattern.search(href)), None)
            if target and urlsplit(response.urljoin(target)).hostname == urlsplit(response.url).hostname:
                yield response.follow(target, self.inner)
        files = response.css('link[rel="stylesheet"]::attr(href), script::attr(src), img::attr(src)').getall()
        for href in files[:FILES]:
            if urlsplit(response.urljoin(href)).hostname == urlsplit(response.url).hostname:
                yield response.follow(href, self.size, method="HEAD")

    def inner(self, response: Any) -> Iterator[dict[str, Any]]:
        """Facts of an inner page."""
        yield facts_of(response)

    def size(self, response: Any) -> Iterator[dict[str, Any]]:
        """The size of a file."""
        yield {"url": response.url, "size": response.headers.get("Content-Length")}


def crawl(sites: list[str], in_flight: int) -> None:
    """Crawl `sites` in this process, telling when ready and what was done."""
    for url in sites:
        dnscache[urlsplit(url).hostname] = "127.0.0.1"
    SiteSpider.sites = sites
    process = CrawlerProcess(
        {
            "LOG_ENABLED": False, "ROBOTSTXT_OBEY": True, "CONCURRENT_REQUESTS": in_flight, "CONCURRENT_REQUESTS_PER_DOMAIN": 1,
            "DOWNLOAD_DELAY": 0, "TELNETCONSOLE_ENABLED": False, "RETRY_ENABLED": False, "DOWNLOAD_TIMEOUT": 10,
            "MEMUSAGE_ENABLED": False, "DNSCACHE_SIZE": 100_000, "LOGSTATS_INTERVAL": 0, "HTTPERROR_ALLOW_ALL": True,
        }
    )  # fmt: skip
    process.crawl(SiteSpider)
    print("ready", flush=True)
    sys.stdin.readline()
    started = time.perf_counter()
    process.start()
    print(json.dumps({"sites": SiteSpider.read, "seconds": time.perf_counter() - started}), flush=True)
