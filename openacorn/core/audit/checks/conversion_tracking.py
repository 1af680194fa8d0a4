"""Is it counted what visitors who came by ads then do?"""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.finding import Evidence, Finding, Outcome, not_applicable, ok, unknown
from openacorn.core.audit.tag_evidence import all_tags, no_tag


def evaluate(pages: Pages) -> Finding:
    """Its code mostly stands on the page after a form is sent, which nobody but a customer sees: absence is unknown."""
    tags = all_tags(pages)
    for (vendor, kind), (hit, page) in tags.items():
        if kind == TagKind.CONVERSION:
            return ok(vendor, "what visitors do is counted", Evidence(page.url, page.at, hit.snippet))
    pixels = [(vendor, seen) for (vendor, kind), seen in tags.items() if kind == TagKind.ADS]
    if pixels:
        vendor, (hit, page) = pixels[0]
        return unknown(
            f"{vendor}'s tag is there, but no event on the pages read; it may follow after a form is sent",
            Evidence(page.url, page.at, hit.snippet),
        )
    absent = no_tag(pages, "", TagKind.ADS)
    return (
        absent
        if absent.outcome is Outcome.UNKNOWN
        else not_applicable("no advertising tag whose visitors could be counted")
    )


CHECK = Check(
    id="conversion_tracking",
    group=Group.TRACKING,
    title="Conversion tracking",
    why="Without it you pay for ads and never learn which of them brought a customer.",
    needs=(Pages,),
    evaluate=evaluate,
    rank=55,
)
