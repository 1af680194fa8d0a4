"""Meta's pixel."""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.finding import Finding
from openacorn.core.audit.tag_evidence import vendor_tag


def evaluate(pages: Pages) -> Finding:
    """By its loader, its call or its image."""
    return vendor_tag(pages, TagKind.ADS, "Meta")


CHECK = Check(
    id="meta_pixel",
    group=Group.TRACKING,
    title="Meta pixel",
    why="With it ads on Facebook and Instagram reach people who have been on your site.",
    needs=(Pages,),
    evaluate=evaluate,
    rank=60,
)
