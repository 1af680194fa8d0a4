"""Pixels of the smaller advertising networks."""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.finding import Evidence, Finding, ok
from openacorn.core.audit.readable import all_tags, no_tag

LARGE = frozenset({"Meta", "Google Ads"})


def judge(pages: Pages) -> Finding:
    """Every network but the two large ones, by name."""
    tags = all_tags(pages)
    found = {vendor: seen for (vendor, kind), seen in tags.items() if kind == TagKind.ADS and vendor not in LARGE}
    if found:
        evidence = [Evidence(page.url, page.at, hit.snippet) for hit, page in found.values()]
        return ok(sorted(found), "also " + ", ".join(sorted(found)), *evidence)
    return no_tag(pages, "none of the smaller networks")


CHECK = Check(
    id="other_pixels",
    group=Group.TRACKING,
    title="Other pixels",
    why="LinkedIn, TikTok, Pinterest, Microsoft: cheap attention, if your customers are there.",
    needs=(Pages,),
    judge=judge,
    weight=0.3,
    rank=70,
)
