"""Results of a web search as businesses: which of them are one, and what its own site says of it."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from urllib.parse import urlsplit

from selectolax.lexbor import LexborHTMLParser

from openacorn.core.audit.address import host_of
from openacorn.core.audit.extract.page import read_page
from openacorn.core.audit.extract.site_name import SEPARATORS, site_name
from openacorn.core.audit.hosts import borrowed
from openacorn.core.gather.file_columns import RowError, read_row
from openacorn.core.gather.listing import Listing
from openacorn.core.gather.pasted import LISTICLE
from openacorn.core.gather.recipe_finder import proposals
from openacorn.core.gather.recipe_reader import outward
from openacorn.core.gather.structured_rows import paths_in, rows_of, value_at

RESULTS_SHARE, FEWEST_RESULTS = 0.7, 4
"""Where this share of the rows lead to as many different hosts, and nothing else is read of them, they are search results."""

LIST_SURE, LIST_ITEMS, REACHED = 0.85, 5, {"phone", "street", "email"}
"""A page with so sure a list of so many entries, with ways to reach them, is a directory's."""

DESCRIBED = 3
"""So many businesses described on one page: a directory's."""


def are_results(rows: Sequence[Mapping[str, str]], url: str) -> bool:
    """Do rows look like results of a web search: a title and an address elsewhere, hardly two at one host?"""
    hosts = {host_of(row["website"]) for row in rows if row.get("website")} - {"", host_of(url)}
    told = {field for row in rows for field in row} & {"phone", "street", "postcode", "email"}
    return len(rows) >= FEWEST_RESULTS and len(hosts) >= RESULTS_SHARE * len(rows) and not told


def site_of(row: Mapping[str, str], url: str) -> str:
    """The address of the site that a result leads to: its front page; a social page as it stands. "" for a listing page, or
    where it leads back to the search service."""
    there = outward(row.get("website", ""), url)
    host = host_of(there)
    if not there.startswith(("http://", "https://")) or host in {"", host_of(url)}:
        return ""
    if _lent(host) == "listing page" or LISTICLE.match(row.get("name", "")):
        return ""
    parts = urlsplit(there)
    return there if _lent(host) == "social page" else f"{parts.scheme}://{parts.netloc}/"


def is_social(site: str) -> bool:
    """Is it a page in a social network: nothing more is read there?"""
    return _lent(host_of(site)) == "social page"


def _lent(host: str) -> str:
    """What kind of page of somebody else's a host lends, "" for an own domain."""
    return (borrowed(host) or ("", ""))[0]


def named(title: str, site: str) -> str:
    """A business's name out of a result's title: the part that is like its host's name, else the first part."""
    first = next((part.strip() for part in SEPARATORS.split(title) if part and part.strip()), title)
    return site_name(None, title, site) or first


def business_on(listing: Listing, html: str, url: str, at: str, region: str | None) -> Listing | None:
    """A result completed by what its own site says; None where the page is a directory's. region: ISO 3166, of the phones."""
    tree = LexborHTMLParser(html)
    described = rows_of(tree)
    if len(described) >= DESCRIBED or _is_directory(html, url):
        return None
    facts = read_page(html, url, at, region, home=region)
    phone = facts.phones[0].value if facts.phones else ""
    email = facts.emails[0].value if facts.emails else ""
    row = {"name": facts.site_name or listing.name, "phone": phone, "email": email, "website": listing.website}
    for item in described[:1]:
        told = {field: value_at(item, path) for field, path in paths_in([item]).items()}
        row |= {field: text for field, text in told.items() if text and field not in {"website", "hours"}}
    try:
        found = read_row(row, {field: field for field in row}, listing.source, "")
    except RowError:
        return listing
    town = found.town or listing.town
    return replace(
        listing, name=found.name, phone=found.phone, email=found.email, street=found.street, town=town,
        postcode=found.postcode, lat=found.lat, lon=found.lon,
    )  # fmt: skip


def _is_directory(html: str, url: str) -> bool:
    for proposal in proposals(html, url, "x", "x")[:1]:
        read = {rule.field for rule in proposal.recipe.fields}
        return proposal.sure >= LIST_SURE and proposal.items >= LIST_ITEMS and len(read & REACHED) > 1
    return False
