"""How long the server thinks before it answers."""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.evidence import Visit
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, unknown

GOOD_S, POOR_S = 0.8, 1.8
"""web.dev, "Time to First Byte": good up to .8 s, poor above 1.8 s (from memory; theirs includes the connection)."""


def evaluate(visit: Visit) -> Finding:
    """From the request sent to the first byte, one visit; the connection is not counted."""
    if not visit.answered:
        return unknown("the site could not be read")
    wait = round(visit.wait_s, 2)
    shown = Evidence(visit.url, visit.at, f"first byte after {wait} s")
    if wait > POOR_S:
        return gap(wait, f"the server takes {wait} s to answer", shown)
    if wait + visit.lost_s > POOR_S:
        lost = f"first byte after {wait} s, and {visit.lost_s:.1f} s in which this machine itself was too busy to tell"
        return unknown(lost, shown, value=wait)
    if wait > GOOD_S:
        return unknown(
            f"{wait} s this once: between {GOOD_S} and {POOR_S} s one visit does not decide", shown, value=wait
        )
    return ok(wait, f"the server answers in {wait} s", shown)


CHECK = Check(
    id="server_wait",
    group=Group.SPEED,
    title="Server wait",
    why="Nothing of your page can be shown before the server has begun to answer.",
    needs=(Visit,),
    evaluate=evaluate,
)
