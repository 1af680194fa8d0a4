"""A sweep opens the sites of its best offers in a browser, and their owners' pages show the pictures."""

import urllib.request
from typing import Any

import pytest

from tests.application import Application, application
from tests.conftest import Coast, circle

pytestmark = [pytest.mark.world, pytest.mark.browser]
PLAN: dict[str, Any] = {"trades": ["vets"], "areas": [circle(-37.02, 160.02, 4000)], "sources": ["listing_service"]}


@pytest.fixture(scope="module")
def app(coast: Coast, tmp_path_factory: pytest.TempPathFactory) -> Any:
    settings = coast.settings.model_copy(update={"browser_looks": 2})
    with application(tmp_path_factory.mktemp("looks"), settings, coast.read("places.json")) as running:
        yield running


def by_worth(app: Application) -> list[int]:
    """Businesses with a site that was read, the best offers first."""
    page = app.get(
        "/api/businesses?columns=id&sort=-value&limit=200&website=listed&check.answers=ok&check.real_site=ok,unknown"
    )
    return [row[page["columns"].index("id")] for row in page["rows"]]


def pictured(app: Application, ids: list[int]) -> list[int]:
    return [number for number in ids if app.get(f"/api/businesses/{number}")["pictures"]]


def picture(url: str) -> bytes:
    with urllib.request.urlopen(url, timeout=30) as answer:
        assert answer.headers["Content-Type"] == "image/webp"
        return bytes(answer.read())


def test_the_best_offers_are_opened_and_the_next_time_the_next_best(app: Application) -> None:
    sweep = app.post("/api/sweeps", {"name": "Vets", "plan": PLAN})
    run = app.wait_for_run(sweep["run_id"])
    assert (run["state"], run["progress"]["looks_done"], run["progress"]["looks_left"]) == ("done", 2, 0), run["why"]
    seen = pictured(app, by_worth(app))
    assert len(seen) == 2
    for number in seen:
        business = app.get(f"/api/businesses/{number}")
        outcomes = {finding["check"]: finding["outcome"] for finding in business["findings"]}
        assert outcomes["overflow"] in {"ok", "gap", "unknown"}
        assert outcomes["load_measured"] != "unknown" or "browser" in str(business["findings"])
        history = app.get(f"/api/businesses/{number}/history")
        assert len(history["audits"]) == 1  # a look is no second audit
    again = app.wait_for_run(app.post(f"/api/sweeps/{sweep['sweep_id']}/runs")["run_id"])
    assert again["progress"]["looks_done"] == 2
    assert len(pictured(app, by_worth(app))) == 4


def test_an_owners_page_shows_the_site_as_it_was_when_the_page_was_made(app: Application) -> None:
    (number, *_) = pictured(app, by_worth(app))
    app.wait_for_run(app.post("/api/owner-pages", {"ids": [number], "share": True})["run_id"])
    page = app.get(f"/api/businesses/{number}/owner-page")
    token = page["address"].rpartition("/")[2]
    with urllib.request.urlopen(f"{app.owners_url}/o/{token}", timeout=30) as answer:
        shown = answer.read().decode()
    assert "How your website looks on a phone" in shown
    assert f'src="/o/{token}/phone.webp"' in shown
    body = picture(f"{app.owners_url}/o/{token}/phone.webp")
    assert body == picture(f"{app.url}/api/businesses/{number}/pictures/phone")
    assert body == picture(f"{app.url}/api/owner-pages/{page['id']}/phone.webp")
    app.wait_for_run(app.post("/api/audits", {"ids": [number], "rendered": True})["run_id"])
    app.wait_for_run(app.post("/api/owner-pages", {"ids": [number]})["run_id"])
    assert picture(f"{app.owners_url}/o/{token}/phone.webp") == body  # as it was shared, until it is shared anew
    with urllib.request.urlopen(f"{app.url}/api/owner-pages/{page['id']}/pdf", timeout=120) as answer:
        assert answer.read(5) == b"%PDF-"
