"""The real interface in headless Chromium: one journey through the screens, by mouse and by keyboard."""

import csv
import io
from pathlib import Path
from typing import Any

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from bench.desk import TOWNS
from openacorn.db.database import Database
from tests.application import application
from tests.conftest import Coast
from tests.web.screen import Screen

pytestmark = [pytest.mark.browser, pytest.mark.world]


def test_plan_run_filter_open_pick_export(screen: Screen, coast: Coast) -> None:
    screen.open("/businesses")
    screen.by_text("No businesses yet", "h2")

    # plan: trades by a synonym, a place by search, an impossible radius first
    screen.open("/sweeps/new")
    search = screen.one("input[aria-label='Search trades']")
    search.send_keys("optometrist")
    screen.by_text("Opticians", "label").click()
    search.send_keys(Keys.CONTROL, "a")
    search.send_keys("flower")
    screen.by_text("Florists", "label").click()
    place = screen.one("input[aria-label='Search a place']")
    place.click()
    place.send_keys("Quill")
    screen.by_text("Quillhaven", "[role=option]").click()
    radius = screen.one("input[aria-label='Radius in kilometres']")
    radius.send_keys(Keys.CONTROL, "a")
    radius.send_keys("5000")
    assert "cannot be swept" in screen.one("[role=alert]").text
    radius.send_keys(Keys.CONTROL, "a")
    radius.send_keys("9")
    screen.until(lambda: "businesses" in screen.one("form").text and not screen.all("[role=alert]"), "an estimate")
    assert (
        screen.one("input[aria-label='Name of the sweep']").get_attribute("value") == "Quillhaven: opticians, florists"
    )
    assert screen.faults() == []

    # run: watched until it ends
    screen.by_text("Start the sweep").click()
    screen.until(lambda: "/sweeps/runs/" in screen.driver.current_url, "the run's page")
    screen.one("[role=progressbar]")
    screen.until(lambda: "Finished" in screen.one("section[aria-label=Progress]").text, "the end of the run")
    assert screen.faults() == []
    screen.by_text("View businesses").click()

    # filter: the address carries it, the count follows, "back" undoes it
    screen.until(lambda: screen.total > 10, "rows")
    everything = screen.total
    screen.by_text("none listed", "aside button").click()
    screen.until(lambda: 0 < screen.total < everything, "fewer rows")
    without = screen.total
    assert "website=none" in screen.driver.current_url
    assert screen.total == screen.app.get("/api/businesses?run=1&website=none&limit=1")["total"]
    screen.driver.back()
    screen.until(lambda: screen.total == everything, "all rows again")
    screen.by_text("none listed", "aside button").click()
    screen.until(lambda: screen.total == without, "the filter again")

    # open, by keyboard: next row, panel with a ledger that adds up
    screen.keys("j", Keys.ENTER)
    panel = screen.one("aside[aria-label='Selected business']")
    ledger = screen.one("[data-testid=ledger]")
    numbers = [int(cell.text.replace("−", "-")) for cell in ledger.find_elements(By.CSS_SELECTOR, "td:last-child")]
    assert numbers[0] == 100
    assert sum(numbers[:-1]) == numbers[-1]
    assert "no website listed" in panel.text
    assert "Listing service" in panel.text
    assert screen.faults() == []

    # pick two and shortlist them under a new name
    screen.keys("x", "j", "x", "s")
    name = screen.one("input[aria-label='Name of a new shortlist']")
    name.send_keys("Monday calls")
    screen.by_text("Make").click()
    screen.until(lambda: "Put 2 businesses on a shortlist" in screen.text, "two added")
    assert screen.app.get("/api/shortlists")[0]["members"] == 2

    # export what is filtered, and check it against the truth
    screen.by_text("Export").click()
    link = screen.until(lambda: screen.all("[role=dialog] form[action*='/export/']"), "the dialog")[-1].get_attribute(
        "action"
    )
    assert "columns=id%2Cname" in link
    whole = link.replace("&columns=", "&ignored=").removeprefix(screen.app.url)
    exported = list(csv.DictReader(io.StringIO(screen.app.export_text(whole))))
    screen.keys(Keys.ESCAPE)
    assert len(exported) == without
    by_phone: dict[tuple[str, str], list[dict[str, Any]]] = {}
    for business in coast.read("truth.json")["businesses"]:
        by_phone.setdefault((business["phone"], business["trade"]), []).append(business)
    for row in exported:
        phone = "+61" + "".join(filter(str.isdigit, row["phone"]))[1:]
        true = by_phone[(phone, {"Optician": "opticians", "Florist": "florists"}[row["trade"]])]
        assert any(business["town"] == row["town"] and not business["website"] for business in true), row["name"]
        assert row["Website listed"] == "gap"
        if row["No website (confirmed)"] == "gap":  # where a site was found, though not listed, they need no new one
            assert row["best offer"] == "New website"
    assert screen.complaints() == []


def test_the_other_views_hold_what_was_done_and_have_no_serious_fault(screen: Screen) -> None:
    for path, holds in (
        ("/sweeps", "Quillhaven"),
        ("/offers", "Mobile rebuild"),
        ("/outreach", "Monday calls"),
        ("/insight", "Quillhaven"),
        ("/insight?view=bars", "Quillhaven"),
        ("/offers/winning", "Nothing has been learnt yet"),
        ("/insight?view=map&measure=sum+of+value", "have a pin"),
        ("/insight?view=changes", "No changes yet"),
        ("/businesses?view=map", "Draw an outline"),
        ("/businesses/1", "Why this score"),
        ("/businesses/compare?ids=1,2,3", "Differing findings"),
        ("/nothing", "no such page"),
    ):
        screen.open(path)
        screen.by_text(holds, "body")
        assert screen.faults() == [], path
    screen.open("/businesses")
    screen.until(lambda: screen.total > 0, "rows")
    screen.keys("?")
    assert "next business" in screen.one("[role=dialog]").text
    assert screen.faults() == []
    screen.keys(Keys.ESCAPE)
    screen.open("/businesses?check.title=nonsense")
    screen.until(lambda: "an outcome is one of" in screen.text, "a bad address explained")


def test_names_with_markup_stay_text(screen: Screen) -> None:
    database = Database(screen.app.folder / "acorn.db")
    with database.write() as conn:
        conn.execute(
            "INSERT INTO business (id, name, trade, town, changed) VALUES (900001, ?, 'vets', 'Here', "
            "(SELECT number + 1 FROM change_counter))", ("<img src=x onerror=document.title='owned'>",),
        )  # fmt: skip
        conn.execute("UPDATE change_counter SET number = number + 1")
    database.close()
    screen.open("/businesses?q=onerror&b=900001")
    screen.until(lambda: "<img src=x" in screen.text, "the name as text")
    assert screen.driver.title == "Businesses – Open Acorn"


MANY = 100_000


def fill(folder: Path) -> None:
    """A hundred thousand businesses, straight into the store."""
    database = Database(folder / "acorn.db")
    with database.write() as conn:
        conn.executemany(
            "INSERT INTO business (name, trade, town, website, score, value, offer, outcomes, changed) VALUES (?, 'vets', ?, 'https://a.example/', ?, ?, 'new_website', ?, ?)",
            (
                (f"Business {n:06d}", TOWNS[n % 40], n % 101, n / 7, '{"title":"gap","analytics":"ok"}', n + 1)
                for n in range(MANY)
            ),
        )
        conn.execute("UPDATE change_counter SET number = ?", (MANY + 1,))
    database.close()


SCROLL = """
const done = arguments[0], box = document.querySelector('[role=grid]'), seen = {frames: 0, blank: 0, most: 0};
const end = box.scrollHeight, start = performance.now();
function step() {
  const rows = [...box.querySelectorAll('[role=rowgroup] [role=row]')];
  const top = box.getBoundingClientRect();
  const inView = rows.filter(r => { const b = r.getBoundingClientRect(); return b.bottom > top.top + 30 && b.top < top.bottom; });
  seen.frames++; seen.most = Math.max(seen.most, rows.length);
  if (inView.length < 10) { seen.blank++; (seen.at ||= []).push([seen.frames, inView.length, rows.length, Math.round(performance.now() - start), box.scrollTop]); }
  if (seen.frames < 120) { box.scrollTop += 900; requestAnimationFrame(step); }
  else { box.scrollTop = end; setTimeout(() => done(seen), 1500); }
}
requestAnimationFrame(step);
"""


def test_a_hundred_thousand_rows_scroll_without_a_blank(driver: Any, coast: Coast, tmp_path: Path) -> None:
    with application(tmp_path, coast.settings, []) as app:
        fill(tmp_path)
        screen = Screen(driver, app)
        driver.set_script_timeout(60)
        screen.open("/businesses?sort=name")
        screen.until(lambda: screen.total == MANY, "all rows counted")
        # the count may be shown a frame before the first rows are: scrolling begins from a table that stands
        screen.until(lambda: len(screen.all("[role=rowgroup] [role=row]")) > 10, "the first rows")
        seen = driver.execute_async_script(SCROLL)
        assert seen["blank"] == 0, seen
        assert seen["most"] < 80
        screen.until(lambda: f"Business {MANY - 1:06d}" in screen.text, "the last row")
        assert screen.complaints() == []
