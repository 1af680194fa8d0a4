"""Recording of visits."""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.finding import Evidence, Finding, ok
from openacorn.core.audit.readable import all_tags, no_tag


def judge(pages: Pages) -> Finding:
    """Any service that shows where visitors click and give up."""
    found = {vendor: seen for (vendor, kind), seen in all_tags(pages).items() if kind == TagKind.RECORDING}
    if found:
        evidence = [Evidence(page.url, page.at, hit.snippet) for hit, page in found.values()]
        return ok(sorted(found), "visits are recorded by " + ", ".join(sorted(found)), *evidence)
    return no_tag(pages, "visits are not recorded")


CHECK = Check(
    id="session_recording",
    group=Group.TRACKING,
    title="Session recording",
    why="It shows where visitors hesitate and leave, so that money goes where it helps.",
    needs=(Pages,),
    judge=judge,
    weight=0.3,
    rank=75,
)
