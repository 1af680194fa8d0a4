"""The truth about how a site looks in a browser on a phone. Only tests and benchmarks read it."""

from openacorn.sim.site import PLACEHOLDERS, Site
from openacorn.sim.truth import GAP, LIGHT_WAIT_S, OK, Answer

FAST_KB, SLOW_KB, SLOW_WAIT_S = 150, 700, 4.0
"""Clearly under 2 s, and clearly over 3 s, at 1.6 Mbit/s."""


def rendered_truth(site: Site) -> dict[str, Answer]:
    """Check id → what is so when a site that answers is opened on a screen of 390 px, over a slow connection.

    Without a viewport a browser lays the page out for a desk; the coast's videos are framed at 560 px.
    """
    wide = site.fixed_width or site.video or site.viewport != "ok"
    kilobytes = site.css_kb + site.js_kb + site.images * site.image_kb
    slow = kilobytes > SLOW_KB or site.delay_s > SLOW_WAIT_S
    fast = kilobytes < FAST_KB and site.delay_s < LIGHT_WAIT_S and not site.pixels and not site.analytics
    shown = site.look not in {*PLACEHOLDERS, "script", "frameset"}
    return {
        "overflow": Answer(GAP if wide else OK, shown),
        "load_measured": Answer(GAP if slow else OK, shown and (slow or fast)),
    }
