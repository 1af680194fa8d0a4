"""A browser of its own for one site: started, given its orders, and ended with all that it started.

Everything the browser asks for goes through a guarded proxy. Selenium is driven step by step in a thread of its own.
"""

import asyncio
import contextlib
import os
import shutil
import signal
import tempfile
import threading
import time
from collections.abc import Callable
from typing import Any, TypeVar

from openacorn.net.probes.proxy import GuardedProxy
from openacorn.net.resolver import GuardedResolver
from openacorn.settings import Settings

Seen = TypeVar("Seen")

COMMAND_SECONDS = 15
"""A single command to the browser takes a second or two; one that takes this long will not end."""

LOAD_SECONDS = 20
SETTLE_SECONDS = 1.5
ARGUMENTS = (
    "--headless=new --disable-gpu --disable-quic --no-first-run --disable-background-networking --disable-sync "
    "--disable-component-update --disable-dev-shm-usage --disable-extensions --mute-audio --ignore-certificate-errors "
    "--proxy-bypass-list=<-loopback> --disable-breakpad --force-webrtc-ip-handling-policy=disable_non_proxied_udp "
    "--webrtc-ip-handling-policy=disable_non_proxied_udp"
).split()
ERROR_PAGE = "chrome-error:"
"""What Chromium shows of its own where a page cannot be opened: nothing of it may be held against the site."""

NAMES = ("chromium", "chromium-browser", "google-chrome", "google-chrome-stable")


class NoBrowser(RuntimeError):
    """No browser is installed; the message says what to install."""


def browser_paths() -> tuple[str, str] | None:
    """(browser, its driver) on this machine, None if either is missing."""
    browser = next(filter(None, map(shutil.which, NAMES)), None)
    driver = shutil.which("chromedriver")
    return (browser, driver) if browser and driver else None


class BrowserSession:
    """One browser, from its start to its end, for one site: its own profile, its own home, its own group of processes."""

    def __init__(self, paths: tuple[str, str], proxy_port: int) -> None:
        self._paths, self._proxy_port = paths, proxy_port
        self.driver: Any = None
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

    def run(self, work: Callable[["BrowserSession"], Seen]) -> Seen:
        """The whole visit, in the calling thread: start a browser, do the work with it, end it."""
        with tempfile.TemporaryDirectory(prefix="acorn-browser-", ignore_cleanup_errors=True) as home:
            service = self._start_driver(home)
            try:
                self.driver = self._start_browser(service, home)
                return work(self)
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

    def tell(self, command: str, params: dict[str, Any]) -> Any:
        """One command of the browser's own protocol."""
        return self.driver.execute("executeCdpCommand", {"cmd": command, "params": params})["value"]

    def wait(self) -> None:
        """Until the page has loaded, at most this long, and a little more for what scripts then load."""
        until = time.monotonic() + LOAD_SECONDS
        while time.monotonic() < until and self.driver.execute_script("return document.readyState") != "complete":
            time.sleep(0.1)
        time.sleep(SETTLE_SECONDS)


class BrowserTrouble(RuntimeError):
    """The browser did not do what was asked; the message says what happened."""


async def in_browser(
    settings: Settings, work: Callable[[BrowserSession], Seen], *, allow_private: bool, seconds: float
) -> tuple[Seen, tuple[str, ...]]:
    """Do some work with a browser of its own; return (what it gave, addresses that the guard refused).

    Raises NoBrowser, and BrowserTrouble where it is not done in `seconds` or fails.
    """
    paths = browser_paths()
    if paths is None:
        raise NoBrowser("no browser is installed: on Debian, apt-get install chromium chromium-driver")
    resolver = GuardedResolver(settings.world, allow_private, settings.trusted_hosts)
    async with GuardedProxy(resolver) as proxy:
        session = BrowserSession(paths, proxy.port)
        visit = asyncio.get_running_loop().run_in_executor(None, session.run, work)
        visit.add_done_callback(
            lambda done: done.cancelled() or done.exception()
        )  # also if nobody waits for it any more
        try:
            await asyncio.wait([visit], timeout=seconds)
            late = not visit.done()
        finally:
            session.kill()  # also if this task is cancelled: nothing of the browser outlives the visit
        # without its browser the visit ends at once
        seen = (await asyncio.gather(visit, return_exceptions=True))[0]
        if late:
            raise BrowserTrouble(f"the browser was not done after {seconds:g} s")
        if isinstance(seen, BaseException):  # Selenium's errors have no common base that says more
            raise BrowserTrouble(f"{type(seen).__name__}: {(str(seen).splitlines() or [''])[0][:160]}") from seen
        return seen, tuple(dict.fromkeys(proxy.refused))[:20]
