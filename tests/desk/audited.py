"""An application with two trades of two towns, audited, for the tests of the desk."""

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from openacorn.sim.serve import free_ports
from tests.application import Application, application
from tests.conftest import Coast, Swept, circle

PLAN: dict[str, Any] = {
    "trades": ["vets", "opticians"],
    "areas": [circle(-37.02, 160.02, 5000.0), circle(-36.78, 160.205, 5000.0)],
    "sources": ["listing_service"],
    "facts": ["website", "contacts", "people", "rank"],
}


HOOK_PORT = free_ports(1)[0]
"""Named in the settings before its server starts."""


@pytest.fixture(scope="module")
def folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return tmp_path_factory.mktemp("desk")


@pytest.fixture(scope="module")
def app(coast: Coast, folder: Path, swept: Swept) -> Iterator[Application]:
    hosts, folders = [f"127.0.0.1:{HOOK_PORT}", "127.0.0.1:9"], [str(folder.parent)]
    settings = coast.settings.model_copy(update={"trusted_hosts": hosts, "delivery_folders": folders})
    swept(PLAN, folder)
    with application(folder, settings, coast.read("places.json")) as running:
        yield running
