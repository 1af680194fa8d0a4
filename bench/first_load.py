"""From an address to the painted table, in a browser that has nothing of it, over a slow line."""

import statistics
import tempfile
import time
from pathlib import Path
from typing import Any

from bench.chromium import MISSING, chromium
from bench.filled import fill_businesses, get_json, running_on
from openacorn.net.probes.browser_session import browser_paths

ROWS, LOADS = 5_000, 7
LATENCY_MS, DOWN_BITS, UP_BITS = 40, 1.6e6, 750e3
WATCH = """
const look = () => {
  if (document.querySelectorAll('[role=rowgroup] [role=row]').length > 10) window.paintedAt = performance.now();
  else requestAnimationFrame(look);
};
requestAnimationFrame(look);
"""
LOADED = """
return performance.getEntriesByType('resource').filter(entry => entry.startTime < window.paintedAt)
  .reduce((sum, entry) => sum + entry.transferSize, 0);
"""


def first_load() -> dict[str, Any]:
    """Milliseconds to the first rows, median and worst, and the kB loaded before; why not, if there is no browser."""
    paths = browser_paths()
    if paths is None:
        return MISSING
    with tempfile.TemporaryDirectory() as name:
        fill_businesses(Path(name), ROWS)
        with running_on(Path(name)) as (url, _), chromium(paths) as browser:
            get_json(f"{url}/api/businesses?limit=1")
            browser.execute_cdp_cmd("Network.enable", {})
            browser.execute_cdp_cmd("Network.setCacheDisabled", {"cacheDisabled": True})
            line = {"latency": LATENCY_MS, "downloadThroughput": DOWN_BITS / 8, "uploadThroughput": UP_BITS / 8}
            browser.execute_cdp_cmd("Network.emulateNetworkConditions", {"offline": False, **line})
            browser.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": WATCH})
            times = [_load(browser, url) for _ in range(LOADS)][1:]  # the first also starts the browser's own parts
            size = int(browser.execute_script(LOADED))
    return {"painted_ms": round(statistics.median(times)), "worst_ms": round(max(times)), "kilobytes": size // 1000}


def _load(browser: Any, url: str) -> float:
    browser.get("about:blank")
    browser.get(url + "/businesses")
    while not (painted := browser.execute_script("return window.paintedAt || 0")):
        time.sleep(0.02)
    return float(painted)
