"""How long the home page takes to load, measured in a browser."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Rendered
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, partial, unknown
from openacorn.core.audit.load_model import PROFILE

NOTABLE_S, SLOW_S = 2.0, 3.0
"""Common practice: over 3 s is slow, 2 to 3 s is worth mentioning."""


def evaluate(shown: Rendered) -> Finding:
    """To the load event, once, on the stated profile."""
    text = f"loaded after {shown.load_s} s, largest content after {shown.lcp_s} s, on {PROFILE}, {len(shown.requests)} requests"
    seen = Evidence(shown.url, shown.at, text)
    if not shown.load_s:
        if shown.waited_s <= SLOW_S:
            return unknown("the page had not finished loading when the browser was closed")
        waited = f"not loaded within {shown.waited_s:g} s, on {PROFILE}, {len(shown.requests)} requests"
        return gap(
            shown.waited_s, f"more than {shown.waited_s:g} s to load, measured", Evidence(shown.url, shown.at, waited)
        )
    if shown.load_s > SLOW_S:
        return gap(shown.load_s, f"{shown.load_s} s to load, measured", seen)
    if shown.load_s > NOTABLE_S:
        return partial(shown.load_s, f"{shown.load_s} s to load, measured", seen)
    return ok(shown.load_s, f"{shown.load_s} s to load, measured", seen)


CHECK = Check(
    id="load_measured",
    group=Group.SPEED,
    title="Load time, measured",
    why="Every second of waiting costs visitors, especially on phones.",
    needs=(Rendered,),
    evaluate=evaluate,
    rank=10,
    owner=OwnersWords(
        topic="A quick home page",
        claim="Your home page took more than three seconds to load when we measured it.",
        partly="Your home page took two to three seconds to load when we measured it.",
        remedy="Find what slows the page down and fix that first.",
    ),
)
