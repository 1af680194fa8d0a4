"""Mobile viewport set."""

import re

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, partial
from openacorn.core.audit.readable import hidden

DEVICE_WIDTH = re.compile(r"width\s*=\s*device-width", re.IGNORECASE)
SCALE_ONE = re.compile(r"initial-scale\s*=\s*1(\.0*)?\b", re.IGNORECASE)
"""CSS Device Adaptation: either one lets the layout follow the device's width."""


def evaluate(pages: Pages) -> Finding:
    """No viewport means that phones show the desktop page, shrunk."""
    page = pages.home
    if page.viewport is None:
        # even script-built pages declare it in their source, so its absence there is real; framesets do not show theirs
        nothing = Evidence(page.url, page.at, 'no <meta name="viewport"> in the source')
        return hidden(page, scripts=False) or gap(None, "no mobile viewport: phones show the page shrunk", nothing)
    shown = Evidence(page.url, page.at, f'<meta name="viewport" content="{page.viewport}">')
    if DEVICE_WIDTH.search(page.viewport) or SCALE_ONE.search(page.viewport):
        return ok(page.viewport, "the page follows the screen's width", shown)
    return partial(page.viewport, "a viewport is set, but not to the screen's width", shown)


CHECK = Check(
    id="viewport",
    group=Group.MOBILE,
    title="Mobile viewport",
    why="Most local searches are on phones; people who must zoom to read move on to the next name.",
    needs=(Pages,),
    evaluate=evaluate,
    weight=2,
    owner=OwnersWords(
        topic="Fitted to phones",
        claim="On a phone your website is shown tiny.",
        partly="Your website is not fitted to the width of a phone.",
        remedy="Rebuild the layout so that it adapts to the screen.",
    ),
)
