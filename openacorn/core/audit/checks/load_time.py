"""How long the home page takes to load, modelled from what was fetched."""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.evidence import Pages, Visit, Weights
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, unknown
from openacorn.core.audit.load_model import PROFILE, modelled_seconds
from openacorn.core.audit.readable import hidden

FAST_S, SLOW_S = 2.0, 4.5
"""A modelled time between these is too uncertain to call; over 3 s measured is slow by common practice."""


def evaluate(pages: Pages, visit: Visit, weights: Weights) -> Finding:
    """Only a lower bound where sizes are missing: it can show that a page is slow, never that it is fast."""
    seconds, complete = modelled_seconds(visit, weights)
    value = round(seconds, 1)
    known = sum(file.size or 0 for file in weights.files) + weights.html_bytes
    text = f"{known / 1000:.0f} kB in {len(weights.files) + 1} files, server wait {visit.wait_s:.1f} s, on {PROFILE}"
    shown = Evidence(pages.home.url, pages.home.at, f"modelled {value} s: {text}")
    if seconds >= SLOW_S:
        return gap(value, f"about {value} s to load (modelled, not measured)", shown)
    concealed = hidden(pages.home)
    if concealed:
        return concealed
    if not complete:
        return unknown(f"at least {value} s; the sizes of some files are not known", shown, value=value)
    if seconds <= FAST_S < seconds + visit.lost_s:
        busy = f"modelled at {value} s, and {visit.lost_s:.1f} s in which this machine itself was too busy to tell"
        return unknown(busy, shown, value=value)
    if seconds > FAST_S:
        return unknown(
            f"modelled at {value} s: between {FAST_S:g} and {SLOW_S:g} s only a measurement decides", shown, value=value
        )
    return ok(value, f"about {value} s to load (modelled, not measured)", shown)


CHECK = Check(
    id="load_time",
    group=Group.SPEED,
    title="Load time",
    why="Every second of waiting costs visitors, most of all on phones.",
    needs=(Pages, Visit, Weights),
    evaluate=evaluate,
)
