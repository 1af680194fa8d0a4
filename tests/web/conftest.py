"""One browser for all journeys, one application a module."""

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from tests.application import Application, application
from tests.conftest import Coast, Swept
from tests.web.screen import Screen, start_browser


@pytest.fixture(scope="session")
def driver() -> Iterator[Any]:
    browser = start_browser()
    yield browser
    browser.quit()


@pytest.fixture(scope="module")
def app(
    coast: Coast, swept: Swept, tmp_path_factory: pytest.TempPathFactory, request: pytest.FixtureRequest
) -> Iterator[Application]:
    """An application over an empty store, or over what was found by the plan that the module names SWEPT."""
    ground = str(coast.folder / "ground.geojson")
    settings = coast.settings.model_copy(update={"ground_map": ground, "home": (-37.02, 160.02)})
    folder: Path = tmp_path_factory.mktemp("web")
    if plan := getattr(request.module, "SWEPT", None):
        swept(plan, folder)
    with application(folder, settings, coast.read("places.json")) as running:
        yield running


@pytest.fixture(scope="module")
def screen(driver: Any, app: Application) -> Iterator[Screen]:
    yield Screen(driver, app)
    driver.get("about:blank")  # so that no poll goes on to ask an application that has ended
    driver.get_log("browser")
