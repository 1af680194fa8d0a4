"""Other people's advertising on the page."""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.finding import Finding, Outcome, ok, partial
from openacorn.core.audit.tag_evidence import no_tag, tags_of


def evaluate(pages: Pages) -> Finding:
    """A business's own site that earns cents by ads sends its visitors elsewhere."""
    for vendor, seen in tags_of(pages, TagKind.PUBLISHER).items():
        return partial(vendor, f"the page shows ads of others ({vendor})", seen)
    absent = no_tag(pages, "", TagKind.PUBLISHER)
    return absent if absent.outcome is Outcome.UNKNOWN else ok("none", "no ads of others")


CHECK = Check(
    id="publisher_ads",
    group=Group.TRACKING,
    title="Ads of others",
    why="Every click on them leads a customer of yours to somebody else for a few cents.",
    needs=(Pages,),
    evaluate=evaluate,
    weight=0.3,
    rank=80,
)
