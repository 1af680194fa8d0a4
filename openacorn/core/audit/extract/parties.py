"""Whose host is it? What a page loads from others, by a table of hosts, and what nobody knows.

The table is `vendors/parties.tsv`: an extract of the npm package third-party-web 0.30.0 (MIT), domain → category and vendor. Of its
analytics, those that record visits are "session recording" here, and those that ask, review, recommend or measure calls, not
visitors, are "marketing" (own knowledge).
"""

import re
from collections.abc import Iterable, Iterator
from functools import cache, lru_cache
from typing import NamedTuple

from openacorn.core.audit import vendors
from openacorn.core.audit.address import host_of
from openacorn.core.audit.evidence import TagHit
from openacorn.core.audit.extract.libraries import may_carry_tags
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.extract.tags import find_tags
from openacorn.core.audit.hosts import registrable_domain
from openacorn.core.audit.tables import by_ending, rows_of


class Party(NamedTuple):
    """Who a host belongs to, and the trade that the table gives it."""

    vendor: str
    category: str


KINDS = {
    "analytics": TagKind.ANALYTICS,
    "session recording": TagKind.RECORDING,
    "ad": TagKind.NETWORK,
    "marketing": TagKind.MARKETING,
    "customer-success": TagKind.SUPPORT,
    "tag-manager": TagKind.MANAGER,
    "consent-provider": TagKind.CONSENT,
}
"""Category → the kind of tag that anything from such a host is; the other categories count nobody."""

SIGNED = dict.fromkeys((
    "google-analytics.com", "googletagmanager.com", "googleadservices.com", "doubleclick.net", "facebook.net", "facebook.com",
    "hotjar.com", "clarity.ms", "bing.com", "googleapis.com", "gstatic.com", "google.com",
), True)  # fmt: skip
"""Hosts of many services, of which only the signatures tell what a given address is."""

ANYBODYS = dict.fromkeys(
    "cloudfront.net amazonaws.com azureedge.net akamaihd.net akamaized.net edgesuite.net akamai.net windows.net azurewebsites.net "
    "herokuapp.com netdna-cdn.com netdna-ssl.com kxcdn.com b-cdn.net fastly.net llnwd.net edgecastcdn.net appspot.com "
    "storage.googleapis.com workers.dev pages.dev netlify.app vercel.app github.io rackcdn.com cachefly.net cdn77.org "
    "digitaloceanspaces.com r2.dev hwcdn.net googlecode.com".split(),
    True,
)
"""Hosts where anybody keeps scripts of their own: whose they are does not say what they do (own knowledge)."""

COUNTING = re.compile(
    r"(?:^|[/_.?&=-])(?:web)?(?:analytics?|metri(?:cs?|ka)|stats?|statisti[ckq]\w*|track(?:er|ing)?|counters?|compteur|contador|"
    r"contatore|licznik|zaehler|z[aä]hler|schetchik|webtrends|omniture|beacon|pixel|hits?)(?=$|[/_.?&=-]|\d)",
    re.I,
)
"""Words in the address of a script or picture that speak of counting visitors, no matter whose the host is."""

PICTURE = re.compile(r"\.(?:jpe?g|png|gif|svg|webp|avif|ico|bmp)$", re.I)
IN_SCRIPT = re.compile(r"/\\?/((?:[\w-]+\.)+[a-z]{2,12})(?::\d+)?((?:\\?/)[^\s'\"<>\\)]*)?", re.I)
OWN_IN_SCRIPT = re.compile(r"['\"](/[\w./-]{1,120}\.js)\b")
MOST = 40


@cache
def _table() -> dict[str, Party]:
    return {row["domain"]: Party(row["vendor"], row["category"]) for row in rows_of(vendors, "parties.tsv")}


@lru_cache(maxsize=16384)
def party_of(host: str) -> Party | None:
    """Return whose host it is, by its longest known ending; None if nobody knows."""
    return by_ending(host, _table())


def is_own(host: str, site: str) -> bool:
    """Return whether two hosts are of one registrable domain."""
    return host == site or (registrable_domain(host) or host) == (registrable_domain(site) or site)


class Loaded(NamedTuple):
    """What a page loads, by whose it is. own: addresses of the site's own scripts; strangers: addresses at hosts that nobody
    knows; hits: tags by the table of hosts; counting: an address that speaks of counting, "" if there is none."""

    own: tuple[str, ...]
    strangers: tuple[str, ...]
    hits: tuple[TagHit, ...]
    counting: str


def _in_scripts(texts: Iterable[str]) -> Iterator[tuple[str, bool]]:
    """(address, does it look like a script?) of what inline scripts name."""
    for text in texts:
        for match in IN_SCRIPT.finditer(text):
            path = (match.group(2) or "").replace("\\", "")
            yield f"http://{match.group(1)}{path}", path.split("?")[0].lower().endswith(".js")


def sort_loaded(site: str, scripts: list[str], pixels: list[str], inline: list[str]) -> Loaded:
    """Sort what a page loads.

    site: host of the page. scripts: addresses of its scripts. pixels: addresses of pictures that may count. inline: texts of
    inline scripts.
    """
    own, strangers, counting = [], [], ""
    hits: dict[tuple[str, str], TagHit] = {}
    named = [(url, True) for url in scripts] + [(url, False) for url in pixels] + list(_in_scripts(inline))
    for place, (url, loads) in enumerate(named):
        host = host_of(url)
        direct = place < len(scripts) + len(pixels)
        path = url.partition("://")[2].partition("/")[2]
        if direct and not counting and COUNTING.search(path.split("?")[0]):
            counting = url[:160]
        if is_own(host, site):
            own += [url] if loads else []
            continue
        party = party_of(host)
        if party is None or (by_ending(host, ANYBODYS) and loads and may_carry_tags(url)):
            strangers += [url[:160]] if loads or direct else []
        elif (kind := KINDS.get(party.category)) and not by_ending(host, SIGNED) and not _signed(url):
            hits.setdefault((party.vendor, kind), TagHit(party.vendor, kind, url[:120]))
    return Loaded(_few(own), _few(strangers), tuple(hits.values()), counting)


def _signed(url: str) -> bool:
    """Do the signatures know what this address is, so that its host need not tell?"""
    return any(hit.kind != TagKind.PLATFORM for hit in find_tags([url]))


def _few(addresses: list[str]) -> tuple[str, ...]:
    return tuple(dict.fromkeys(addresses))[:MOST]
