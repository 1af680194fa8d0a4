"""Chromium, without a window, for figures of what somebody sees."""

import shutil
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

CHROMIUM, DRIVER = "chromium", "chromedriver"
MISSING = {"missing": "no Chromium and ChromeDriver on this machine"}
ARGUMENTS = (
    "--headless=new --no-sandbox --disable-gpu --disable-quic --no-first-run --disable-sync --window-size=1280,800"
)


def there_is_chromium() -> bool:
    """Are the browser and its driver on this machine?"""
    return bool(shutil.which(CHROMIUM) and shutil.which(DRIVER))


@contextmanager
def chromium() -> Iterator[Any]:
    """A browser, closed on leaving."""
    from selenium import webdriver
    from selenium.webdriver.chrome.service import Service

    options = webdriver.ChromeOptions()
    options.binary_location = shutil.which(CHROMIUM) or ""
    for argument in ARGUMENTS.split():
        options.add_argument(argument)
    browser = webdriver.Chrome(options=options, service=Service(shutil.which(DRIVER)))
    try:
        yield browser
    finally:
        browser.quit()
