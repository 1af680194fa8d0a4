"""A chat window."""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.finding import Finding, ok
from openacorn.core.audit.tag_evidence import no_tag, tags_of


def evaluate(pages: Pages) -> Finding:
    """Any known chat service; a tag manager may load one unseen."""
    for vendor, seen in tags_of(pages, TagKind.CHAT).items():
        return ok(vendor, f"{vendor} is in place", seen)
    return no_tag(pages, "no chat", TagKind.CHAT)


CHECK = Check(
    id="chat",
    group=Group.CONTENT,
    title="Chat",
    why="A question answered while they look is a customer; the same question by mail is a maybe.",
    needs=(Pages,),
    evaluate=evaluate,
    weight=0.3,
    rank=75,
)
