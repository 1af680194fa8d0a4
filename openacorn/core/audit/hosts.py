"""Whose address is it: an own domain, a page on a shared host, or a page on a social network."""

from functools import cache, lru_cache

import tldextract

from openacorn.core.audit.extract.socials import network_of

SHARED_HOSTS = frozenset(
    "squarespace.com weebly.com wordpress.com godaddysites.com jimdosite.com jimdofree.com site123.me business.site canva.site "
    "strikingly.com webnode.page wixsite.com webflow.io blogspot.com tumblr.com yolasite.com mystrikingly.com ueniweb.com "
    "carrd.co square.site sites.google.com notion.site linktr.ee".split()
)
"""Builders and free hosts that the public-suffix list's private part does not know (from memory, checked against it)."""

SANDBOX_SHARED_HOSTS = frozenset({"tidepages.example", "shopfront.example"})
"""The simulated coast's own page builders: `.example` names can never be real sites (RFC 2606)."""

DIRECTORY_HOSTS = frozenset({"yellowpages.com.au", "yelp.com", "truelocal.com.au", "google.com", "g.page", "goo.gl"})
"""Profiles here are listings, not a business's own site."""


KNOWN_HOSTS = dict.fromkeys(DIRECTORY_HOSTS, "listing page") | dict.fromkeys(
    SHARED_HOSTS | SANDBOX_SHARED_HOSTS, "builder's subdomain"
)
"""Whose hosts are known → what a page below one is."""


@cache
def _extract() -> tldextract.TLDExtract:
    return tldextract.TLDExtract(suffix_list_urls=(), cache_dir=None, include_psl_private_domains=True)


@lru_cache(maxsize=65536)
def _parts(host: str) -> tldextract.ExtractResult:
    return _extract()(host)


@lru_cache(maxsize=65536)
def registrable_domain(host: str) -> str | None:
    """Return the part of `host` that somebody registers, by the public-suffix list shipped with the library.

    "www.harbour.com.au" → "harbour.com.au"; None for a bare suffix, an IP address or a single label. An ending that the
    list does not know counts as one label (publicsuffix.org, "If no rules match, the prevailing rule is *").
    """
    name = host.rstrip(".").lower()
    parts = _parts(name)
    if parts.suffix or parts.ipv4 or parts.ipv6 or ":" in name:
        return parts.top_domain_under_public_suffix or None
    labels = name.split(".")
    return ".".join(labels[-2:]) if len(labels) > 1 and all(labels) else None


@lru_cache(maxsize=65536)
def borrowed(host: str) -> tuple[str, str] | None:
    """Return (kind, whose) if a site at `host` stands on somebody else's domain, None for an own domain.

    Kinds: "social page", "listing page", "builder's subdomain".
    """
    network = network_of(host)
    if network:
        return "social page", network
    above = host
    while above:
        if above in KNOWN_HOSTS:
            return KNOWN_HOSTS[above], above
        above = above.partition(".")[2]
    parts = _parts(host)
    if parts.is_private and parts.domain:
        return "builder's subdomain", parts.suffix
    return None
