"""A browser window on the application, with the few moves that the journeys make."""

import time
from collections.abc import Callable
from typing import Any

from selenium import webdriver
from selenium.common.exceptions import StaleElementReferenceException, TimeoutException
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import WebDriverWait

from tests.application import ROOT, Application

ARGUMENTS = (
    "--headless=new --no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking "
    "--disable-component-update --disable-sync --disable-dev-shm-usage --force-prefers-reduced-motion"
).split()
WAIT_S = 120
"""Only a screen that hangs is waited for so long; a busy machine is slow and right."""

SHOWING = """
const shown = (e) => e.getClientRects().length > 0 && getComputedStyle(e).visibility !== "hidden";
return [...document.querySelectorAll(arguments[0])].find((e) => shown(e) && e.innerText.includes(arguments[1])) ?? null;
"""


COUNTED = """
const count = (name) => () => sessionStorage.setItem(name, Number(sessionStorage.getItem(name) ?? 0) + 1);
addEventListener("click", (event) => event.isTrusted && event.detail > 0 && count("clicks")(), true);
addEventListener("focusin", (event) => event.target.matches("input, textarea, select") && count("fields")(), true);
"""
"""Counts what a person does on each page: clicks of the mouse, and fields that are gone into."""


class Element(WebElement):  # type: ignore[misc]  # Selenium is untyped
    """An element whose text the browser itself reads: the driver's own reading of a full table takes a second."""

    @property
    def text(self) -> str:
        return str(self.get_property("innerText") or "").strip()


class Screen:
    """A browser window on the application, with the few moves that the journeys make."""

    def __init__(self, driver: Any, app: Application) -> None:
        self.driver = driver
        self.app = app

    def open(self, path: str) -> None:
        """Go to an address."""
        self.driver.get(self.app.url + path)

    def begin(self) -> None:
        """From here on it is counted what a journey takes of a person."""
        self.open("/")
        self.driver.execute_script("sessionStorage.clear()")
        self._began = time.monotonic()

    def clicks(self, journey: str) -> int:
        """Clicks since `begin`; they, the fields gone into and the time are printed."""
        read = "return ['clicks', 'fields'].map((name) => Number(sessionStorage.getItem(name) ?? 0))"
        clicks, fields = self.driver.execute_script(read)
        print(f"{journey}: {clicks} clicks, {fields} fields, {time.monotonic() - self._began:.0f} s")
        return int(clicks)

    def until(self, condition: Callable[[], Any], what: str) -> Any:
        """Wait for something to be true; an element that was redrawn meanwhile is looked for again."""
        redrawn = (StaleElementReferenceException,)
        try:
            return WebDriverWait(self.driver, WAIT_S, 0.1, ignored_exceptions=redrawn).until(
                lambda _: condition(), what
            )
        except TimeoutException as late:
            shown = self.driver.execute_script("return document.body.innerText")
            raise AssertionError(f"{what}: not there after {WAIT_S} s; the screen shows {shown[:1500]!r}") from late

    def all(self, css: str) -> list[Any]:
        """Elements that are there now."""
        return list(self.driver.find_elements(By.CSS_SELECTOR, css))

    def one(self, css: str) -> Any:
        """The first element, waited for."""
        return self.until(lambda: next(iter(self.all(css)), None), css)

    def by_text(self, text: str, within: str = "button, a, label, [role=option]") -> Any:
        """The first control that shows `text`, waited for. One script: a call an element took seconds on a full table."""
        return self.until(lambda: self.driver.execute_script(SHOWING, within, text), text)

    def keys(self, *keys: str, held: str = "") -> None:
        """Type into whatever has the focus; `held`: a key that is down meanwhile."""
        chain = webdriver.ActionChains(self.driver)
        if held:
            chain.key_down(held).send_keys(*keys).key_up(held).perform()
        else:
            chain.send_keys(*keys).perform()

    @property
    def text(self) -> str:
        """What the page shows."""
        return str(self.driver.execute_script("return document.body?.innerText ?? ''"))

    @property
    def total(self) -> int:
        """The count of the table."""
        shown = self.one("[data-testid=total]").text.replace(",", "")
        return int(shown) if shown.isdigit() else -1

    def faults(self) -> list[str]:
        """Whatever axe-core finds, however small, once nothing on the page is still loading."""
        self.until(lambda: not self.all("[aria-busy=true]"), "nothing is loading")
        self.driver.execute_script(
            (ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text(encoding="utf-8")
        )
        found = self.driver.execute_async_script(
            "const done = arguments[0];"
            "axe.run({exclude: [['[data-headlessui-focus-guard]']]}, {resultTypes: ['violations']}).then(r => done(r.violations), e => done([{id: String(e), impact: 'critical', nodes: []}]))"
        )
        return [f"{item['id']}: {item['nodes'][0]['html'][:160] if item['nodes'] else ''}" for item in found]

    def complaints(self) -> list[str]:
        """What the browser's console holds against us, but for the answers to input that was meant to be bad."""
        entries = self.driver.get_log("browser")
        return [
            entry["message"]
            for entry in entries
            if entry["level"] == "SEVERE" and "status of 422" not in entry["message"]
        ]


def start_browser() -> Any:
    """Headless Chromium of 1280 × 800."""
    options = webdriver.ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    for argument in ARGUMENTS:
        options.add_argument(argument)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    browser = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    browser._web_element_cls = Element
    size = {"width": 1280, "height": 800, "deviceScaleFactor": 1, "mobile": False}
    browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)
    browser.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": COUNTED})
    return browser
