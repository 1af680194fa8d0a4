"""Images with alternative text."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.finding import Evidence, Finding, gap, not_applicable, ok, partial
from openacorn.core.audit.readable import hidden

GAP_SHARE = 0.5
"""From half of the images on it is the rule there, not an oversight (ours; the standard knows only pass and fail)."""


def evaluate(pages: Pages) -> Finding:
    """WCAG 2.2 success criterion 1.1.1, technique H37; `alt=""` is right for decoration (H67)."""
    page = pages.home
    if page.images == 0:
        return hidden(page) or not_applicable("the home page has no images")
    missing = len(page.images_without_alt)
    if missing == 0:
        return ok(0, f"all {page.images} images have an alternative text or are marked as decoration")
    shown = Evidence(page.url, page.at, "no alt: " + ", ".join(page.images_without_alt[:3]))
    text = f"{missing} of {page.images} images have no alternative text"
    return gap(missing, text, shown) if missing >= GAP_SHARE * page.images else partial(missing, text, shown)


CHECK = Check(
    id="image_alt",
    group=Group.SEARCH,
    title="Image descriptions",
    why="Blind visitors and search engines cannot see pictures; they read the words beside them.",
    needs=(Pages,),
    evaluate=evaluate,
    owner=OwnersWords(
        topic="Pictures described in words",
        claim="Most pictures on your home page are not described in words, so blind visitors and search engines miss them.",
        partly="Some pictures on your home page are not described in words.",
        remedy="Describe each picture in a few words.",
    ),
)
