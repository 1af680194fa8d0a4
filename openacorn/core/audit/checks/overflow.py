"""Does the page fit a phone?"""

from openacorn.core.audit.address import host_of
from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import FileKind, Rendered
from openacorn.core.audit.extract.parties import is_own
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, unknown

SLACK_PX = 4
"""Rounding and shadows stick out by a few pixels on pages that fit (ours)."""

SHRUNK = 0.9
"""A page shown a little smaller can still be read (ours)."""


def evaluate(shown: Rendered) -> Finding:
    """Width of the content against a phone held upright, 390 CSS px."""
    text = f"content {shown.content_width} px wide on a screen of {shown.width} px"
    seen = Evidence(shown.url, shown.at, text)
    laid_out_by = [
        file for file in shown.lost if file.kind is FileKind.STYLE or is_own(host_of(file.url), host_of(shown.url))
    ]
    if laid_out_by:
        missing = laid_out_by[0]
        return unknown(
            f"a {missing.kind} of the page did not load; it may fit with it", Evidence(shown.url, shown.at, missing.url)
        )
    if shown.scale < SHRUNK:
        return gap(shown.content_width, f"a phone shows the page at {shown.scale:.0%} of its size to make it fit", seen)
    if shown.content_width > shown.width + SLACK_PX:
        out = shown.content_width - shown.width
        return gap(shown.content_width, f"on a phone the page sticks out by {out} px", seen)
    return ok(shown.content_width, "the page fits a phone", seen)


CHECK = Check(
    id="overflow",
    group=Group.MOBILE,
    title="Fits a phone",
    why="What does not fit must be dragged or zoomed into view; most people give up first.",
    needs=(Rendered,),
    evaluate=evaluate,
    rank=20,
    owner=OwnersWords(
        topic="Everything fits on a phone",
        claim="Your home page does not fit on a phone screen.",
        remedy="Make every part fit the screen.",
        instead_of=("viewport", "fixed_layout"),
    ),
)
