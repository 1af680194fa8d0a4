"""Is there a site at the address, or a placeholder?"""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import PageFacts
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, unknown

MIN_WORDS = 15
"""Fewer visible words and no picture, frame or script: an empty page. Set on the sets in tests/."""


def evaluate(page: PageFacts) -> Finding:
    """Parked, coming-soon, default and empty pages are gaps; what a script or frame would show is unknown."""
    if page.placeholder:
        words = Evidence(page.url, page.at, page.placeholder_snippet)
        return gap(page.placeholder, f"the address shows a {page.placeholder} page", words)
    shown = Evidence(page.url, page.at, page.text_start[:120] or "(no text)")
    if page.words >= MIN_WORDS:
        return ok("real site", f"{page.words} words of its own", shown)
    if page.script_built:
        return unknown("a script builds this page; its source does not show what visitors see", shown)
    if page.frames:
        return unknown("the page is made of frames; its own source holds no text", shown)
    if page.images:
        return unknown("the page is made of pictures; its source holds no text", shown)
    return gap("empty", "the page is empty", shown)


CHECK = Check(
    id="real_site",
    group=Group.PRESENCE,
    title="Real site",
    why="A parked or unfinished page tells customers that nobody is there.",
    needs=(PageFacts,),
    evaluate=evaluate,
    weight=2,
    rank=30,
    owner=OwnersWords(
        topic="A finished website",
        claim="Your address shows an unfinished page instead of your website.",
        remedy="Put a proper site at your address: what you do, where, when, and how to reach you.",
    ),
)
