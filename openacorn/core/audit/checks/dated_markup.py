"""Markup of another age."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, partial
from openacorn.core.audit.readable import hidden

RULE_AT = 2
"""One such element may be left in a text; two kinds are how the page is made (ours)."""


def evaluate(pages: Pages) -> Finding:
    """Elements and attributes that the HTML standard calls obsolete, and frames."""
    page = pages.home
    dated = page.content.dated
    if page.frames:
        return gap("frames", "the page is made of frames", Evidence(page.url, page.at, page.frames[0]))
    if dated:
        shown = Evidence(page.url, page.at, " … ".join(dated[:3]))
        text = f"{len(dated)} kinds of markup that the standard calls obsolete"
        return gap(len(dated), text, shown) if len(dated) >= RULE_AT else partial(1, "one obsolete element", shown)
    return hidden(page) or ok(0, "no obsolete markup")


CHECK = Check(
    id="dated_markup",
    group=Group.CONTENT,
    title="Dated markup",
    why="A page built this way looks dated, and breaks on new devices.",
    needs=(Pages,),
    evaluate=evaluate,
    rank=40,
    owner=OwnersWords(
        topic="Built the modern way",
        claim="Your website is built the way sites were twenty years ago.",
        partly="Part of your website is built the way sites were twenty years ago.",
        remedy="Rebuild the pages; the words and pictures stay.",
    ),
)
