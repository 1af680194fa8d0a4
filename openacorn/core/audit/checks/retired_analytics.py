"""A counter that was switched off and is still in place."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.checks.analytics import evaluate as evaluate_analytics
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.finding import Finding, Outcome, not_applicable, ok
from openacorn.core.audit.tag_evidence import all_tags


def evaluate(pages: Pages) -> Finding:
    """A tag of the retired generation with no living one beside it: somebody once wanted to know, and believes they do."""
    found = evaluate_analytics(pages)
    retired = any(kind == TagKind.RETIRED for _, kind in all_tags(pages))
    if found.outcome is Outcome.UNKNOWN or (found.outcome is Outcome.GAP and retired):
        return found
    if found.outcome is Outcome.GAP:
        return not_applicable("no visitor statistics at all")
    return ok(found.value, "the statistics in place still collect", *found.evidence)


CHECK = Check(
    id="retired_analytics",
    group=Group.TRACKING,
    title="Outdated analytics",
    why="An outdated counter looks fine in the page but has collected nothing for years.",
    needs=(Pages,),
    evaluate=evaluate,
    rank=51,
    weight=0.5,
    owner=OwnersWords(
        topic="The counter still counts",
        claim="The visitor counter on your website is an old kind that no longer collects anything.",
        remedy="Replace the counter with one that works.",
        instead_of=("analytics",),
    ),
)
