"""An advertising or remarketing pixel."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.finding import Finding, ok
from openacorn.core.audit.tag_evidence import no_tag, tags_of


def evaluate(pages: Pages) -> Finding:
    """Any network's pixel; behind a tag manager or consent tool the source does not decide."""
    found = tags_of(pages, TagKind.ADS)
    if found:
        return ok(sorted(found), "visitors can be reached again by ads on " + ", ".join(sorted(found)), *found.values())
    return no_tag(pages, "no advertising pixel", TagKind.ADS)


CHECK = Check(
    id="ad_pixel",
    group=Group.TRACKING,
    title="Advertising pixel",
    why="A pixel lets ads reach people who have already visited you: the cheapest customers to win.",
    needs=(Pages,),
    evaluate=evaluate,
    owner=OwnersWords(
        topic="Ads can reach past visitors",
        claim="Your website cannot show ads to people who have already visited it.",
        remedy="Install the code that lets ads reach past visitors.",
    ),
)
