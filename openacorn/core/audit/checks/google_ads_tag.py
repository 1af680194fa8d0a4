"""Google's advertising tag."""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.finding import Finding
from openacorn.core.audit.tag_evidence import vendor_tag


def evaluate(pages: Pages) -> Finding:
    """By an AW- id or the older conversion and remarketing scripts."""
    return vendor_tag(pages, TagKind.ADS, "Google Ads")


CHECK = Check(
    id="google_ads_tag",
    group=Group.TRACKING,
    title="Google Ads tag",
    why="With it you see which search ads bring customers, and can reach visitors again.",
    needs=(Pages,),
    evaluate=evaluate,
    rank=60,
)
