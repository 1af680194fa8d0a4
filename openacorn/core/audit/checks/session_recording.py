"""Recording of visits."""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.finding import Finding, ok
from openacorn.core.audit.tag_evidence import no_tag, tags_of


def evaluate(pages: Pages) -> Finding:
    """Any service that shows where visitors click and give up."""
    found = tags_of(pages, TagKind.RECORDING)
    if found:
        return ok(sorted(found), "visits are recorded by " + ", ".join(sorted(found)), *found.values())
    return no_tag(pages, "visits are not recorded", TagKind.RECORDING)


CHECK = Check(
    id="session_recording",
    group=Group.TRACKING,
    title="Session recording",
    why="It shows where visitors hesitate and leave, so that money goes where it helps.",
    needs=(Pages,),
    evaluate=evaluate,
    weight=0.3,
    rank=75,
)
