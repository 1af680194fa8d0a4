"""An application whose businesses were audited for first contact, and owners' pages made in it."""

import urllib.error
import urllib.parse
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from openacorn.settings import MailSettings
from tests.application import Application, application
from tests.conftest import Coast, Swept, circle

PLAN: dict[str, Any] = {
    "trades": ["vets", "opticians", "florists"],
    "areas": [circle(-37.02, 160.02, 5000.0)],
    "sources": ["listing_service"],
    "facts": ["website", "contacts", "people", "mailboxes"],
}


@pytest.fixture(scope="module")
def folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return tmp_path_factory.mktemp("outreach")


@pytest.fixture(scope="module")
def app(coast: Coast, folder: Path, swept: Swept) -> Iterator[Application]:
    assert coast.settings.world is not None
    post = MailSettings(host="127.0.0.1", port=coast.settings.world.smtp_port, sender="acorn@wrenfold.example")
    settings = coast.settings.model_copy(update={"public_address": "https://pages.wrenfold.example", "mail": post})
    swept(PLAN, folder)
    with application(folder, settings, coast.read("places.json")) as running:
        yield running


def made(app: Application, ids: list[int], **more: Any) -> list[dict[str, Any]]:
    """The pages of businesses, made in a run."""
    run = app.wait_for_run(app.post("/api/owner-pages", {"ids": ids, **more})["run_id"])
    assert (run["state"], run["progress"]["pages_done"]) == ("done", len(ids))
    return [app.get(f"/api/businesses/{business}/owner-page") for business in ids]


def path_of(page: dict[str, Any]) -> str:
    return str(urllib.parse.urlsplit(page["address"]).path)
