"""A page as a browser draws it, to be read: for lists that scripts put there, with what a button or scrolling brings in."""

import time
from dataclasses import dataclass

from openacorn.net.probes.browser_session import ERROR_PAGE, BrowserSession, BrowserTrouble, in_browser
from openacorn.settings import Settings

DRAWING_SECONDS = 90.0
MORE_SECONDS = 8.0
"""How long rows may take to come after a click or a scroll."""

QUIET_SECONDS = 1.0
MAX_DRAWN = 8_000_000

CLICK = """
const more = arguments[0] ? document.querySelector(arguments[0]) : null;
window.scrollTo(0, document.documentElement.scrollHeight);
const leads = more && more.matches("a[href]:not([href^='#']):not([href^='javascript:'])");
if (more && !leads && !more.disabled && more.offsetParent !== null) more.click();
"""
COUNT = (
    "return arguments[0] ? document.querySelectorAll(arguments[0]).length : document.getElementsByTagName('*').length"
)


@dataclass(frozen=True, slots=True)
class Drawn:
    """A drawn page's source, and where it was found in the end."""

    html: str
    url: str


async def draw(
    url: str, settings: Settings, *, rows: str = "", more: str = "", most: int = 1, allow_private: bool = False
) -> Drawn:
    """Open a page, then up to `most` - 1 times scroll to its end and click `more`, as long as that brings further `rows`.

    rows, more: selectors; a link to another page is not followed. Raises NoBrowser or BrowserTrouble.
    """

    def work(session: BrowserSession) -> Drawn:
        driver = session.driver
        driver.get(url)
        session.wait()
        if str(driver.current_url).startswith(ERROR_PAGE):
            raise BrowserTrouble("the browser could not open it")
        count = driver.execute_script(COUNT, rows)
        for _ in range(most - 1):
            driver.execute_script(CLICK, more)
            now = _grown(session, rows, count)
            if now <= count:
                break
            count = now
        html = str(driver.execute_script("return document.documentElement.outerHTML"))
        return Drawn(html[:MAX_DRAWN], str(driver.current_url))

    drawn, _ = await in_browser(settings, work, allow_private=allow_private, seconds=DRAWING_SECONDS)
    return drawn


def _grown(session: BrowserSession, rows: str, before: int) -> int:
    """How many rows there are once they have come and no more follow."""
    until, count, since = time.monotonic() + MORE_SECONDS, before, time.monotonic()
    while time.monotonic() < until:
        time.sleep(0.1)
        now = int(session.driver.execute_script(COUNT, rows))
        if now != count:
            count, since = now, time.monotonic()
        elif count > before and time.monotonic() - since > QUIET_SECONDS:
            break
    return count
