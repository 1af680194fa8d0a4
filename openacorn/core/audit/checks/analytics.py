"""A living analytics tag."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.finding import Evidence, Finding, Outcome, gap, ok, unknown
from openacorn.core.audit.tag_evidence import all_tags, no_tag

COUNTS_ITSELF = frozenset(
    "Wix Squarespace Shopify Weebly Jimdo Duda Tilda uCoz Webnode Blogger Tumblr BigCommerce Volusion Ecwid".split()
) | {"GoDaddy builder", "HubSpot CMS", "IONOS MyWebsite"}
"""Builders that keep visitor statistics for their customers, with no tag in the page (own knowledge)."""

RETIRED_ON = "1 July 2023"
"""The day Universal Analytics properties stopped collecting, by its vendor's notice (from memory)."""


def evaluate(pages: Pages) -> Finding:
    """Any visitor statistics that still collect; a tag of the retired generation collects nothing."""
    tags = all_tags(pages)
    living = {vendor: seen for (vendor, kind), seen in tags.items() if kind == TagKind.ANALYTICS}
    if living:
        evidence = [Evidence(page.url, page.at, hit.snippet) for hit, page in living.values()]
        return ok(sorted(living), "visitor statistics are collected", *evidence)
    retired = [(vendor, seen) for (vendor, kind), seen in tags.items() if kind == TagKind.RETIRED]
    for (vendor, kind), (hit, page) in tags.items():
        if kind == TagKind.PLATFORM and vendor in COUNTS_ITSELF:
            return unknown(f"{vendor} keeps statistics of its own", Evidence(page.url, page.at, hit.snippet))
    absent = no_tag(pages, "no visitor statistics", TagKind.ANALYTICS)
    if absent.outcome is Outcome.UNKNOWN or not retired:
        return absent
    vendor, (hit, page) = retired[0]
    shown = Evidence(page.url, page.at, hit.snippet)
    return gap([f"{vendor} (retired)"], f"the tag in place has collected nothing since {RETIRED_ON}", shown)


CHECK = Check(
    id="analytics",
    group=Group.TRACKING,
    title="Analytics",
    why="Without visitor statistics nobody knows whether the site, or any money spent on it, brings customers.",
    needs=(Pages,),
    evaluate=evaluate,
    owner=OwnersWords(
        topic="Visitors are counted",
        claim="Your website does not count its visitors.",
        remedy="Set up visitor statistics, and review them once a month.",
    ),
)
