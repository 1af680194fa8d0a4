"""A privacy page."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.finding import Finding
from openacorn.core.audit.readable import action, nowhere


def evaluate(pages: Pages) -> Finding:
    """A link by that name on any page read; what the page says is not judged."""
    return action(pages, "privacy") or nowhere(
        pages, "no link to a privacy page", "link that names privacy", in_words=True
    )


CHECK = Check(
    id="privacy_page",
    group=Group.CONTENT,
    title="Privacy page",
    why="Anybody who collects names and addresses must say what happens to them; ad networks ask for it too.",
    needs=(Pages,),
    evaluate=evaluate,
    rank=65,
    owner=OwnersWords(
        topic="A privacy page",
        claim="We saw no page on your website that says what happens to people's details.",
        remedy="Add a page that says what you keep and why.",
    ),
)
