"""Where the data about a business came from, on its owner's request: each fact with its source, and nothing of the agency's own."""

import re
import urllib.error
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import lxml.html
import pytest

from tests.application import Application, application
from tests.conftest import TWO_SOURCES, Coast, Swept

pytestmark = pytest.mark.world


@pytest.fixture(scope="module")
def app(coast: Coast, swept: Swept, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    folder: Path = tmp_path_factory.mktemp("origins")
    swept(TWO_SOURCES, folder)
    with application(folder, coast.settings, coast.read("places.json")) as running:
        yield running


def shared(app: Application, business: int) -> str:
    """The address of its owner's page, on this machine."""
    app.wait_for_run(app.post("/api/owner-pages", {"ids": [business], "share": True, "by": "Ada"})["run_id"])
    address = str(app.get(f"/api/businesses/{business}/owner-page")["address"])
    return app.owners_url + "/o/" + address.rpartition("/o/")[2]


def read(address: str) -> Any:
    with urllib.request.urlopen(address, timeout=60) as answer:
        return lxml.html.fromstring(answer.read().decode())


def test_each_fact_has_its_source(app: Application) -> None:
    page = app.get("/api/businesses?columns=id&limit=20&website=listed&has=email")
    business = int(page["rows"][0][0])
    app.post(f"/api/businesses/{business}/activities", {"by": "Ada", "text": "a note of our own: looks rich"})
    known = app.get(f"/api/businesses/{business}")
    address = shared(app, business)
    (link,) = [one for one in read(address).xpath("//a/@href") if one.endswith("/data")]
    assert address.endswith(link.removesuffix("/data"))
    found = read(f"{address}/data")
    rows = {row.xpath("string(td[1]/strong)"): (row.xpath("string(td[1])"), row.xpath("string(td[2])"), row.xpath("string(td[3])"))
            for row in found.xpath("//tbody/tr")}  # fmt: skip
    sources = {fact["field"]: fact["source"] for fact in known["facts"]}
    for field, title in (("name", "Name"), ("phone", "Phone"), ("website", "Website"), ("rating", "Rating")):
        if field in sources:
            assert rows[title][1] == sources[field], field
            assert re.search(r"\d{4}", rows[title][2]), "and when it was said"
    assert known["contacts"][0]["value"] in found.text_content()
    for ours in ("looks rich", "Score", "staff_band", "Ada"):
        assert ours not in found.text_content().replace(known["name"], "")
    assert found.xpath("//form[@method='post']/@action") == [f"/o/{address.rpartition('/o/')[2]}/stop"]
    assert not found.xpath("//script")


def test_in_the_owners_language_and_gone_with_the_page(app: Application) -> None:
    page = app.get("/api/businesses?columns=id&limit=20&website=listed")
    business = int(page["rows"][5][0])
    put(app, f"/api/businesses/{business}/language", {"language": "de"})
    address = shared(app, business)
    assert "Woher es stammt" in read(f"{address}/data").text_content()
    number = app.get(f"/api/businesses/{business}/owner-page")["id"]
    app.post(f"/api/owner-pages/{number}/withdraw", {"by": "Ada"})
    for path, status in ((f"{address}/data", 410), (f"{app.owners_url}/o/guessed/data", 404)):
        with pytest.raises(urllib.error.HTTPError) as caught:
            read(path)
        assert caught.value.code == status
        caught.value.close()


def put(app: Application, path: str, body: Any) -> None:
    import json

    request = urllib.request.Request(
        app.url + path, json.dumps(body).encode(), {"Content-Type": "application/json"}, method="PUT"
    )
    urllib.request.urlopen(request, timeout=60).close()
