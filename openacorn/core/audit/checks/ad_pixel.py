"""An advertising or remarketing pixel."""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.finding import Evidence, Finding, ok
from openacorn.core.audit.readable import all_tags, no_tag


def judge(pages: Pages) -> Finding:
    """Any network's pixel; behind a tag manager or consent tool the source does not decide."""
    found = {vendor: seen for (vendor, kind), seen in all_tags(pages).items() if kind == TagKind.ADS}
    if found:
        evidence = [Evidence(page.url, page.at, hit.snippet) for hit, page in found.values()]
        return ok(sorted(found), "visitors can be reached again by ads on " + ", ".join(sorted(found)), *evidence)
    return no_tag(pages, "no advertising pixel")


CHECK = Check(
    id="ad_pixel",
    group=Group.TRACKING,
    title="Advertising pixel",
    why="A pixel lets ads reach people who have already visited you: the cheapest customers to win.",
    needs=(Pages,),
    judge=judge,
)
