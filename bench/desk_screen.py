"""From a click on a facet to the repainted table, in a real browser, at 100,000 businesses."""

import json
import os
import random
import shutil
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path
from typing import Any

import orjson

from openacorn.core.audit.check import all_checks
from openacorn.core.score.columns import OUTCOMES
from openacorn.db.database import Database
from openacorn.settings import Settings
from openacorn.settings_file import save_settings
from openacorn.sim.serve import free_ports

ROWS, CLICKS, BATCH = 100_000, 12, 10_000
CHROMIUM, DRIVER = "chromium", "chromedriver"
ARGUMENTS = (
    "--headless=new --no-sandbox --disable-gpu --disable-quic --no-first-run --disable-sync --window-size=1280,800"
)
TRADES, TOWNS = ("vets", "florists", "opticians", "locksmiths"), tuple(f"Town {number:02d}" for number in range(40))
INSERT = """
INSERT INTO business (name, trade, town, website, offer, score, value, fit, reach, reviews, rating, distance_m, outcomes, changed)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, 1)
"""
MEASURE = """
const [click, done] = arguments;
const shown = () => document.querySelector('[data-testid=total]').textContent;
const before = shown(), started = performance.now();
const watch = () => shown() === before ? requestAnimationFrame(watch)
  : requestAnimationFrame(() => done(performance.now() - started));
click.click(); requestAnimationFrame(watch);
"""


def _fill(database: Database) -> None:
    rng = random.Random(4)
    checks, kinds = [check.id for check in all_checks()], [str(outcome) for outcome in OUTCOMES]
    offers = ("new_website", "mobile_rebuild", "search_basics", "")
    for start in range(0, ROWS, BATCH):
        rows = []
        for number in range(start, start + BATCH):
            outcomes = dict(zip(checks, rng.choices(kinds, (2, 1, 4, 1, 2), k=len(checks)), strict=True))
            site = f"https://b{number}.example/" if rng.random() < 0.8 else ""
            drawn = (
                rng.choice(offers),
                rng.randrange(100),
                rng.random() * 200,
                rng.random(),
                rng.random(),
                rng.randrange(500),
            )
            where = (f"Business {number}", rng.choice(TRADES), rng.choice(TOWNS), site)
            rows.append((*where, *drawn, rng.random() * 5, rng.random() * 9e4, orjson.dumps(outcomes).decode()))
        with database.write() as conn:
            conn.executemany(INSERT, rows)


def _clicks(url: str) -> list[float]:
    """Milliseconds from click to repaint: trades and towns chosen and let go in turn."""
    from selenium import webdriver
    from selenium.webdriver.chrome.service import Service
    from selenium.webdriver.common.by import By
    from selenium.webdriver.support.ui import WebDriverWait

    options = webdriver.ChromeOptions()
    options.binary_location = shutil.which(CHROMIUM) or ""
    for argument in ARGUMENTS.split():
        options.add_argument(argument)
    browser: Any = webdriver.Chrome(options=options, service=Service(shutil.which(DRIVER)))
    try:
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
    finally:
        browser.quit()


def facet_click() -> dict[str, Any]:
    """Median and worst of the clicks; why not, where there is no browser."""
    if not (shutil.which(CHROMIUM) and shutil.which(DRIVER)):
        return {"missing": "no Chromium and ChromeDriver on this machine"}
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        save_settings(folder, Settings())
        database = Database(folder / "acorn.db")
        _fill(database)
        database.close()
        port = free_ports(1)[0]
        command = [sys.executable, "-m", "openacorn.cli", "serve", "--data", name, "--port", str(port)]
        server = subprocess.Popen(command, env=os.environ, stdout=subprocess.DEVNULL)
        url = f"http://127.0.0.1:{port}"
        try:
            for _ in range(300):
                try:
                    with urllib.request.urlopen(f"{url}/api/businesses?limit=1", timeout=120) as answer:
                        json.load(answer)
                    break
                except OSError:
                    time.sleep(0.1)
            times = _clicks(url)
        finally:
            server.terminate()
            server.wait(timeout=20)
    return {"clicks": len(times), "median_ms": round(statistics.median(times), 1), "worst_ms": round(max(times), 1)}
