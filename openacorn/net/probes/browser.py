"""A site as a browser shows it: on a phone and on a desk, with what it loads, how long that takes, and how it looks.

Everything the browser asks for goes through a guarded proxy. Selenium is told step by step in a thread of its own.
"""

import asyncio
import base64
import contextlib
import json
import os
import shutil
import signal
import tempfile
import threading
import time
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from importlib import resources
from typing import Any

from openacorn.clock import utc_now
from openacorn.core.audit.evidence import FileKind, Rendered, Subresource
from openacorn.core.audit.extract.page import read_page
from openacorn.core.audit.extract.tags import find_tags
from openacorn.core.audit.spots import PHONE_PX, Spot, SpotKind
from openacorn.net.probes.proxy import GuardedProxy
from openacorn.net.resolver import GuardedResolver
from openacorn.settings import Settings

DESK = (1280, 800)
LATENCY_MS, DOWN_BYTES_S, UP_BYTES_S = 150, 1_600_000 / 8, 750_000 / 8
"""The stated profile of the load model, as Chromium's network emulation takes it."""

LOAD_SECONDS = 20
SETTLE_SECONDS = 1.5
SITE_SECONDS = 60.0
COMMAND_SECONDS = 15
"""A single command to the browser takes a second or two; one that takes so long will not end."""

MAX_WINDOWS = 20
QUALITY = 55
MAX_REQUESTS = 400
MAX_LOST = 20
LOST_KINDS = {"Script": FileKind.SCRIPT, "Stylesheet": FileKind.STYLE}
"""Kinds of files, as the browser's log names them, without which a page is not what its visitors see."""

MAX_HTML = 2_000_000
ARGUMENTS = (
    "--headless=new --disable-gpu --disable-quic --no-first-run --disable-background-networking --disable-sync "
    "--disable-component-update --disable-dev-shm-usage --disable-extensions --mute-audio --ignore-certificate-errors "
    "--proxy-bypass-list=<-loopback> --disable-breakpad --force-webrtc-ip-handling-policy=disable_non_proxied_udp "
    "--webrtc-ip-handling-policy=disable_non_proxied_udp"
).split()
ERROR_PAGE = "chrome-error:"
"""What Chromium shows of its own where a page cannot be opened: nothing of it may be held against the site."""

NAMES = ("chromium", "chromium-browser", "google-chrome", "google-chrome-stable")
LOOK = resources.files("openacorn.net.probes").joinpath("look.js").read_text("utf-8")
MOST_SPOTS = 12
MOST_TEXT = 80


class NoBrowser(RuntimeError):
    """No browser is installed; the message says what to install."""


@dataclass(frozen=True, slots=True)
class BrowserVisit:
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

    def __init__(
        self, settings: Settings, *, allow_private: bool = False, most: int = 1, seconds: float = SITE_SECONDS
    ) -> None:
        self._settings = settings
        self._allow_private = allow_private
        self._room = asyncio.Semaphore(most)
        self._seconds = seconds

    async def look(self, url: str, region: str | None = None) -> BrowserVisit:
        """Open a site on a phone and on a desk. region: ISO 3166 code of the business's country, if that is known. Raises
        NoBrowser; what the site does wrong is in the result."""
        paths = browser_paths()
        if paths is None:
            raise NoBrowser("no browser is installed: on Debian, apt-get install chromium chromium-driver")
        resolver = GuardedResolver(self._settings.world, self._allow_private, self._settings.trusted_hosts)
        async with self._room, GuardedProxy(resolver) as proxy:
            session = _Session(paths, proxy.port, region, self._settings.region)
            visit = asyncio.get_running_loop().run_in_executor(None, session.look, url)
            try:
                await asyncio.wait([visit], timeout=self._seconds)
                late = not visit.done()
            finally:
                session.kill()  # also if this task is cancelled: nothing of the browser outlives the visit
            # without its browser the visit ends at once
            seen = (await asyncio.gather(visit, return_exceptions=True))[0]
            if late:
                return _failed(url, f"the browser was not done after {self._seconds:g} s")
            if isinstance(seen, BaseException):  # Selenium's errors have no common base that says more
                return _failed(url, f"{type(seen).__name__}: {(str(seen).splitlines() or [''])[0][:160]}")
            return replace(seen, rendered=replace(seen.rendered, refused=tuple(dict.fromkeys(proxy.refused))[:20]))


def _failed(url: str, why: str) -> BrowserVisit:
    return BrowserVisit(Rendered(url, utc_now(), failed=why), {})


class _Session:
    """One browser, from its start to its end, for one site: its own profile, its own home, its own group of processes."""

    def __init__(self, paths: tuple[str, str], proxy_port: int, region: str | None, home: str | None) -> None:
        self._paths, self._proxy_port, self._region, self._home = paths, proxy_port, region, home
        self._driver: Any = None
        self._group = 0
        self._over = False
        self._lock = threading.Lock()

    def kill(self) -> None:
        """End the browser and all it started, whatever it is doing; from any thread, without waiting."""
        with self._lock:
            self._over = True
            if self._group:
                with contextlib.suppress(ProcessLookupError):
                    os.killpg(self._group, signal.SIGKILL)
                self._group = 0

    def look(self, url: str) -> BrowserVisit:
        """The whole visit, in the calling thread."""
        with tempfile.TemporaryDirectory(prefix="acorn-browser-", ignore_cleanup_errors=True) as home:
            service = self._start_driver(home)
            try:
                self._driver = self._start_browser(service, home)
                return self._visit(url)
            finally:
                self.kill()
                service.process.wait()
                service.process.stdin.close()

    def _start_driver(self, home: str) -> Any:
        from selenium.webdriver.chrome.service import Service  # only here: the application starts without a browser

        # none of our variables, and a home of its own: what a page gets out of the browser finds nothing of the user's
        env = {"HOME": home, "TMPDIR": home, "PATH": os.environ.get("PATH", os.defpath), "LANG": "C.UTF-8"}
        service = Service(self._paths[1], env=env, popen_kw={"start_new_session": True, "cwd": home})
        with self._lock:
            if self._over:
                raise NoBrowser("it was ended before it began")
            # under the lock, so that it cannot be missed by who ends it; it only starts the process and waits for its port
            service.start()
            self._group = service.process.pid
        return service

    def _start_browser(self, service: Any, home: str) -> Any:
        from selenium import webdriver
        from selenium.webdriver.chromium.remote_connection import ChromiumRemoteConnection
        from selenium.webdriver.remote.client_config import ClientConfig

        options = webdriver.ChromeOptions()
        options.binary_location = self._paths[0]
        options.page_load_strategy = "none"
        options.unhandled_prompt_behavior = "dismiss"
        options.add_experimental_option("excludeSwitches", ["disable-popup-blocking"])
        sandbox = ("--no-sandbox",) if os.geteuid() == 0 else ()  # Chromium has none for the superuser
        for argument in (
            *ARGUMENTS, *sandbox, f"--user-data-dir={home}/profile", f"--proxy-server=127.0.0.1:{self._proxy_port}"
        ):  # fmt: skip
            options.add_argument(argument)
        options.set_capability("goog:loggingPrefs", {"performance": "ALL"})
        line = ChromiumRemoteConnection(
            service.service_url,
            browser_name="chrome",
            vendor_prefix="goog",
            client_config=ClientConfig(service.service_url, timeout=COMMAND_SECONDS),
        )
        return webdriver.Remote(line, options=options)

    def _tell(self, command: str, params: dict[str, Any]) -> Any:
        """One command of the browser's own protocol."""
        return self._driver.execute("executeCdpCommand", {"cmd": command, "params": params})["value"]

    def _visit(self, url: str) -> BrowserVisit:
        at = utc_now()
        phone, phone_given = self._open(url, PHONE_PX, mobile=True, slow=True)
        requests, lost = self._requests()
        if str(phone_given["at"]).startswith(ERROR_PAGE):
            return BrowserVisit(Rendered(url, at, failed="the browser could not open it"), {})
        pictures = {"phone": phone}
        html, final = str(phone_given["html"])[:MAX_HTML], str(self._driver.current_url)
        pictures["desk"], _ = self._open(url, DESK, mobile=False, slow=False)
        page = read_page(html, final, at, self._region, home=self._home)
        page = replace(page, tags=tuple(dict.fromkeys((*page.tags, *find_tags(requests)))))
        rendered = Rendered(
            final, at, page=page, load_s=round(float(phone_given["load"]), 2), lcp_s=round(float(phone_given["lcp"]), 2),
            width=PHONE_PX[0], content_width=int(phone_given["wide"]), scale=round(float(phone_given["scale"]), 3),
            requests=tuple(requests[:MAX_REQUESTS]),
            waited_s=LOAD_SECONDS, fired=find_tags(requests), lost=tuple(lost[:MAX_LOST]),
            spots=spots_in(phone_given["spots"]),
        )  # fmt: skip
        return BrowserVisit(rendered, pictures)

    def _open(self, url: str, size: tuple[int, int], *, mobile: bool, slow: bool) -> tuple[bytes, dict[str, Any]]:
        tell = self._tell
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
        self._close_others()
        metrics = self._driver.execute_async_script(LOOK, MAX_HTML)
        shot = tell("Page.captureScreenshot", {"format": "webp", "quality": QUALITY})
        return base64.b64decode(shot["data"]), metrics

    def _wait(self) -> None:
        """Until the page has loaded, at most so long, and a little more for what scripts then bring in."""
        until = time.monotonic() + LOAD_SECONDS
        while time.monotonic() < until and self._driver.execute_script("return document.readyState") != "complete":
            time.sleep(0.1)
        time.sleep(SETTLE_SECONDS)

    def _close_others(self) -> None:
        """Close the windows that the page opened: in front of it they would keep it from being drawn."""
        first, *others = self._driver.window_handles
        for handle in others[:MAX_WINDOWS]:
            self._driver.switch_to.window(handle)
            self._driver.close()
        if others:
            self._driver.switch_to.window(first)
            self._tell("Page.bringToFront", {})

    def _requests(self) -> tuple[list[str], list[Subresource]]:
        """(addresses of everything the page asked for, scripts and style sheets that did not come)."""
        entries = self._driver.execute("getLog", {"type": "performance"})["value"]
        return sort_log(json.loads(entry["message"])["message"] for entry in entries)


def spots_in(raw: object) -> tuple[Spot, ...]:
    """What the page's own script engine says of places in the picture, as far as it makes sense: a page can answer anything."""
    found = []
    for item in raw if isinstance(raw, list) else ():
        with contextlib.suppress(TypeError, ValueError, KeyError, OverflowError):
            x, y, width, height = (int(item[name]) for name in ("x", "y", "width", "height"))
            if 0 <= x < x + width <= PHONE_PX[0] + 1 and 0 <= y < y + height <= PHONE_PX[1] + 1:
                found.append(Spot(SpotKind(item["kind"]), x, y, width, height, str(item["text"])[:MOST_TEXT]))
    return tuple(found[:MOST_SPOTS])


def sort_log(messages: Iterable[Mapping[str, Any]]) -> tuple[list[str], list[Subresource]]:
    """Sort the browser's network log: (addresses asked for, scripts and style sheets that failed, were refused or answered with
    an error). What the page itself gave up does not count."""
    asked: dict[str, str] = {}
    lost: dict[str, Subresource] = {}
    for message in messages:
        params = message["params"]
        number, kind = str(params.get("requestId", "")), LOST_KINDS.get(str(params.get("type", "")))
        if message["method"] == "Network.requestWillBeSent":
            asked[number] = str(params["request"]["url"])[:500]
            continue
        failed = message["method"] == "Network.loadingFailed" and not params.get("canceled")
        refused = message["method"] == "Network.responseReceived" and params["response"]["status"] >= 400
        if kind and (failed or refused) and number in asked:
            lost[asked[number]] = Subresource(asked[number], kind, True)
    return [url for url in dict.fromkeys(asked.values()) if url.startswith("http")], list(lost.values())
