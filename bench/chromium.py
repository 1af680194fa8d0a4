"""Chromium, without a window, for figures of what somebody sees."""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

MISSING = {"missing": "no Chromium and ChromeDriver on this machine"}
ARGUMENTS = (
    "--headless=new --no-sandbox --disable-gpu --disable-quic --no-first-run --disable-sync --window-size=1280,800"
)


@contextmanager
def chromium(paths: tuple[str, str]) -> Iterator[Any]:
    """A browser, closed on leaving. paths: as `browser_paths` gives them."""
    from selenium import webdriver
    from selenium.webdriver.chrome.service import Service

    options = webdriver.ChromeOptions()
    options.binary_location = paths[0]
    for argument in ARGUMENTS.split():
        options.add_argument(argument)
    browser = webdriver.Chrome(options=options, service=Service(paths[1]))
    try:
        yield browser
    finally:
        browser.quit()
