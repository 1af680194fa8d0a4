"""Pixels of the smaller advertising networks."""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.finding import Finding, ok
from openacorn.core.audit.tag_evidence import no_tag, tags_of

LARGE = frozenset({"Meta", "Google Ads"})


def evaluate(pages: Pages) -> Finding:
    """Every network but the two large ones, by name."""
    found = {vendor: seen for vendor, seen in tags_of(pages, TagKind.ADS).items() if vendor not in LARGE}
    if found:
        return ok(sorted(found), "also " + ", ".join(sorted(found)), *found.values())
    return no_tag(pages, "none of the smaller networks", TagKind.ADS)


CHECK = Check(
    id="other_pixels",
    group=Group.TRACKING,
    title="Other pixels",
    why="LinkedIn, TikTok, Pinterest, Microsoft: cheap attention, if your customers are there.",
    needs=(Pages,),
    evaluate=evaluate,
    weight=0.3,
    rank=70,
)
