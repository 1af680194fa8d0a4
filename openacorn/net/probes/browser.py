"""A site as a browser shows it: on a phone and on a desk, with what it loads, how long that takes, and how it looks.

Everything the browser asks for goes through a guarded proxy. Selenium is told step by step in a thread of its own.
"""

import asyncio
import base64
import contextlib
import json
import shutil
import tempfile
import time
from dataclasses import dataclass, replace
from typing import Any

from openacorn.core.audit.evidence import Rendered
from openacorn.core.audit.extract.page import read_page
from openacorn.core.audit.extract.tags import find_tags
from openacorn.core.region import region_of
from openacorn.net.probes.proxy import GuardedProxy
from openacorn.net.probes.site import now
from openacorn.net.resolver import GuardedResolver
from openacorn.settings import Settings

PHONE = (390, 844)
DESK = (1280, 800)
LATENCY_MS, DOWN_BYTES_S, UP_BYTES_S = 150, 1_600_000 / 8, 750_000 / 8
"""The stated profile of the load model, as Chromium's network emulation takes it."""

LOAD_SECONDS = 20
SETTLE_SECONDS = 1.5
SITE_SECONDS = 60.0
QUALITY = 55
MAX_REQUESTS = 400
MAX_HTML = 2_000_000
ARGUMENTS = (
    "--headless=new --no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking --disable-sync "
    "--disable-component-update --disable-dev-shm-usage --disable-extensions --mute-audio --ignore-certificate-errors "
    "--proxy-bypass-list=<-loopback>"
).split()
ERROR_PAGE = "chrome-error:"
"""What Chromium shows of its own where a page cannot be opened: nothing of it may be held against the site."""

NAMES = ("chromium", "chromium-browser", "google-chrome", "google-chrome-stable")
LCP = """
const done = arguments[0];
let last = 0;
new PerformanceObserver(list => { for (const e of list.getEntries()) last = Math.max(last, e.startTime); })
  .observe({type: 'largest-contentful-paint', buffered: true});
setTimeout(() => {
  const [nav] = performance.getEntriesByType('navigation');
  done({lcp: last / 1000, load: nav ? nav.loadEventEnd / 1000 : 0, wide: document.documentElement.scrollWidth,
        inner: window.innerWidth, at: document.URL,
        html: document.documentElement.outerHTML.slice(0, arguments.length > 1 ? arguments[1] : 2e6)});
}, 100);
"""


class NoBrowser(RuntimeError):
    """No browser is installed; the message says what to install."""


@dataclass(frozen=True, slots=True)
class Seen:
    """What the browser saw, and pictures of it (WebP): kind → bytes."""

    rendered: Rendered
    pictures: dict[str, bytes]


def browser_paths() -> tuple[str, str] | None:
    """(browser, its driver) on this machine, None if either is missing."""
    browser = next(filter(None, map(shutil.which, NAMES)), None)
    driver = shutil.which("chromedriver")
    return (browser, driver) if browser and driver else None


class BrowserProbe:
    """Opens sites in browsers of their own, at most `most` at a time."""

    def __init__(self, settings: Settings, *, allow_private: bool = False, most: int = 1) -> None:
        self._settings = settings
        self._allow_private = allow_private
        self._room = asyncio.Semaphore(most)

    async def look(self, url: str) -> Seen:
        """Open a site on a phone and on a desk. Raises NoBrowser; what the site does wrong is in the result."""
        paths = browser_paths()
        if paths is None:
            raise NoBrowser("no browser is installed: on Debian, apt-get install chromium chromium-driver")
        resolver = GuardedResolver(self._settings.world, self._allow_private, self._settings.trusted_hosts)
        async with self._room, GuardedProxy(resolver) as proxy:
            try:
                session = _Session(paths, proxy.port, self._settings.region)
                seen = await asyncio.wait_for(asyncio.to_thread(session.look, url), SITE_SECONDS)
            except TimeoutError:
                session.end()
                return Seen(Rendered(url, now(), failed=f"the browser was not done after {SITE_SECONDS:g} s"), {})
            except Exception as error:  # Selenium's errors have no common base that says more
                return Seen(
                    Rendered(url, now(), failed=f"{type(error).__name__}: {str(error).splitlines()[0][:160]}"), {}
                )
            return replace(seen, rendered=replace(seen.rendered, refused=tuple(dict.fromkeys(proxy.refused))[:20]))


class _Session:
    """One browser, from its start to its end, for one site."""

    def __init__(self, paths: tuple[str, str], proxy_port: int, region: str | None) -> None:
        self._paths, self._proxy_port, self._region = paths, proxy_port, region
        self._driver: Any = None

    def end(self) -> None:
        """Close the browser, whatever it is doing."""
        with contextlib.suppress(Exception):
            if self._driver is not None:
                self._driver.quit()

    def look(self, url: str) -> Seen:
        """The whole visit, in the calling thread."""
        with tempfile.TemporaryDirectory(prefix="acorn-browser-", ignore_cleanup_errors=True) as profile:
            self._driver = self._start(profile)
            try:
                return self._visit(url)
            finally:
                self.end()

    def _start(self, profile: str) -> Any:
        from selenium import webdriver  # only here: the application starts without a browser
        from selenium.webdriver.chrome.service import Service

        options = webdriver.ChromeOptions()
        options.binary_location = self._paths[0]
        options.page_load_strategy = "none"
        for argument in (*ARGUMENTS, f"--user-data-dir={profile}", f"--proxy-server=127.0.0.1:{self._proxy_port}"):
            options.add_argument(argument)
        options.set_capability("goog:loggingPrefs", {"performance": "ALL"})
        return webdriver.Chrome(options=options, service=Service(self._paths[1]))

    def _visit(self, url: str) -> Seen:
        at = now()
        phone, phone_told = self._open(url, PHONE, mobile=True, slow=True)
        requests = self._requests()
        if str(phone_told["at"]).startswith(ERROR_PAGE):
            return Seen(Rendered(url, at, failed="the browser could not open it"), {})
        pictures = {"phone": phone}
        html, final = str(phone_told["html"])[:MAX_HTML], str(self._driver.current_url)
        pictures["desk"], _ = self._open(url, DESK, mobile=False, slow=False)
        page = read_page(html, final, at, region_of(final.split("/")[2] if "//" in final else "", self._region))
        page = replace(page, tags=tuple(dict.fromkeys((*page.tags, *find_tags(requests)))))
        rendered = Rendered(
            final, at, page=page, load_s=round(float(phone_told["load"]), 2), lcp_s=round(float(phone_told["lcp"]), 2),
            width=PHONE[0], content_width=int(phone_told["wide"]), requests=tuple(requests[:MAX_REQUESTS]),
            waited_s=LOAD_SECONDS, fired=find_tags(requests),
        )  # fmt: skip
        return Seen(rendered, pictures)

    def _open(self, url: str, size: tuple[int, int], *, mobile: bool, slow: bool) -> tuple[bytes, dict[str, Any]]:
        tell = self._driver.execute_cdp_cmd
        tell(
            "Emulation.setDeviceMetricsOverride",
            {"width": size[0], "height": size[1], "deviceScaleFactor": 1, "mobile": mobile},
        )
        tell("Network.enable", {})
        tell("Network.setCacheDisabled", {"cacheDisabled": True})
        line = (LATENCY_MS, DOWN_BYTES_S, UP_BYTES_S) if slow else (0, -1, -1)
        tell(
            "Network.emulateNetworkConditions",
            {"offline": False, "latency": line[0], "downloadThroughput": line[1], "uploadThroughput": line[2]},
        )
        self._driver.get(url)
        self._wait()
        told = self._driver.execute_async_script(LCP)
        shot = tell("Page.captureScreenshot", {"format": "webp", "quality": QUALITY})
        return base64.b64decode(shot["data"]), told

    def _wait(self) -> None:
        """Until the page has loaded, at most so long, and a little more for what scripts then bring in."""
        until = time.monotonic() + LOAD_SECONDS
        while time.monotonic() < until and self._driver.execute_script("return document.readyState") != "complete":
            time.sleep(0.1)
        time.sleep(SETTLE_SECONDS)

    def _requests(self) -> list[str]:
        """Addresses of everything the page asked for."""
        found = []
        for entry in self._driver.get_log("performance"):
            message = json.loads(entry["message"])["message"]
            if message["method"] == "Network.requestWillBeSent":
                found.append(str(message["params"]["request"]["url"])[:500])
        return [url for url in dict.fromkeys(found) if url.startswith("http")]
