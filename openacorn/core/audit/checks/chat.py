"""A chat window."""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.finding import Evidence, Finding, ok
from openacorn.core.audit.readable import all_tags, no_tag


def judge(pages: Pages) -> Finding:
    """Any known chat service; a tag manager may load one unseen."""
    for (vendor, kind), (hit, page) in all_tags(pages).items():
        if kind == TagKind.CHAT:
            return ok(vendor, f"{vendor} is in place", Evidence(page.url, page.at, hit.snippet))
    return no_tag(pages, "no chat")


CHECK = Check(
    id="chat",
    group=Group.CONTENT,
    title="Chat",
    why="A question answered while they look is a customer; the same question by mail is a maybe.",
    needs=(Pages,),
    judge=judge,
    weight=0.3,
    rank=75,
)
