"""One browser for all journeys, one application a module."""

from collections.abc import Iterator
from typing import Any

import pytest

from tests.application import Application, application
from tests.conftest import Coast
from tests.web.screen import Screen, start_browser


@pytest.fixture(scope="session")
def driver() -> Iterator[Any]:
    browser = start_browser()
    yield browser
    browser.quit()


@pytest.fixture(scope="module")
def app(coast: Coast, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    ground = str(coast.folder / "ground.geojson")
    settings = coast.settings.model_copy(update={"ground_map": ground, "home": (-37.02, 160.02)})
    with application(tmp_path_factory.mktemp("web"), settings, coast.read("places.json")) as running:
        yield running


@pytest.fixture(scope="module")
def screen(driver: Any, app: Application) -> Iterator[Screen]:
    yield Screen(driver, app)
    driver.get("about:blank")  # so that no poll goes on to ask an application that has ended
    driver.get_log("browser")
