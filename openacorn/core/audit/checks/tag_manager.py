"""A tag manager."""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.finding import Evidence, Finding, ok
from openacorn.core.audit.tag_evidence import all_tags, no_tag


def evaluate(pages: Pages) -> Finding:
    """Its container; a page built by script may load one unseen."""
    for (vendor, kind), (hit, page) in all_tags(pages).items():
        if kind == TagKind.MANAGER:
            return ok([vendor, *hit.ids], f"{vendor} is in place", Evidence(page.url, page.at, hit.snippet))
    return no_tag(pages, "no tag manager", TagKind.MANAGER)


CHECK = Check(
    id="tag_manager",
    group=Group.TRACKING,
    title="Tag manager",
    why="With it tracking can be set up and mended without touching the site.",
    needs=(Pages,),
    evaluate=evaluate,
    weight=0.5,
    rank=65,
)
