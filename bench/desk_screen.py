"""From a click on a facet to the repainted table, in a real browser, at 100,000 businesses."""

import statistics
import tempfile
import time
from pathlib import Path
from typing import Any

from bench.chromium import MISSING, chromium
from bench.filled import fill_businesses, get_json, running_on
from openacorn.net.probes.browser_session import browser_paths

ROWS, CLICKS = 100_000, 12
MEASURE = """
const [click, done] = arguments;
const shown = () => document.querySelector('[data-testid=total]').textContent;
const before = shown(), started = performance.now();
const watch = () => shown() === before ? requestAnimationFrame(watch)
  : requestAnimationFrame(() => done(performance.now() - started));
click.click(); requestAnimationFrame(watch);
"""


def _clicks(url: str, paths: tuple[str, str]) -> list[float]:
    """Milliseconds from click to repaint: trades and towns chosen and let go in turn."""
    from selenium.webdriver.common.by import By
    from selenium.webdriver.support.ui import WebDriverWait

    with chromium(paths) as browser:
        browser.get(url + "/businesses")
        wait = WebDriverWait(browser, 120)
        wait.until(lambda b: b.find_element(By.CSS_SELECTOR, "[data-testid=total]").text == f"{ROWS:,}")
        wait.until(lambda b: len(b.find_elements(By.CSS_SELECTOR, "[role=rowgroup] [role=row]")) > 10)
        times = []
        for number in range(CLICKS):
            facet = browser.find_elements(By.XPATH, "//aside[@aria-label='Filters']//button[starts-with(., 'Town ')]")[
                number // 2
            ]
            times.append(float(browser.execute_async_script(MEASURE, facet)))
            time.sleep(0.4)
        return times


def facet_click() -> dict[str, Any]:
    """Median and worst of the clicks; why not, where there is no browser."""
    paths = browser_paths()
    if paths is None:
        return MISSING
    with tempfile.TemporaryDirectory() as name:
        fill_businesses(Path(name), ROWS)
        with running_on(Path(name)) as (url, _):
            get_json(f"{url}/api/businesses?limit=1")
            times = _clicks(url, paths)
    return {"clicks": len(times), "median_ms": round(statistics.median(times), 1), "worst_ms": round(max(times), 1)}
