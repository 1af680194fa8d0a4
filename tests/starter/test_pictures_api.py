"""Pictures of the coast's old websites: fetched over sockets, placed, shown to owners, taken along once they agreed."""

import io
import json
import urllib.request
import zipfile
from typing import Any

import pytest
from PIL import Image
from selectolax.lexbor import LexborHTMLParser

from tests.application import Application
from tests.asking import failing, ids_of, opened
from tests.outreach.contacted import app, folder
from tests.starter.test_sites_api import site_of

__all__ = ["app", "folder"]
pytestmark = pytest.mark.world


def with_pictures(app: Application) -> tuple[int, list[dict[str, Any]]]:
    for number in ids_of(app):
        waiting = app.get(f"/api/businesses/{number}/website/pictures")["waiting"]
        if len(waiting) >= 3:
            return number, waiting
    raise AssertionError("no old website shows three pictures")


def body_of(app: Application, path: str) -> bytes:
    with urllib.request.urlopen(app.url + path, timeout=30) as answer:
        body: bytes = answer.read()
        return body


def in_zip(app: Application, number: int) -> set[str]:
    with zipfile.ZipFile(io.BytesIO(body_of(app, f"/api/businesses/{number}/website.zip"))) as archive:
        return {name for name in archive.namelist() if name.startswith("pictures/")}


def test_taken_over_placed_and_handed_out_with_consent(app: Application) -> None:
    number, waiting = with_pictures(app)
    path = f"/api/businesses/{number}/website"
    for item in waiting[:3]:
        found = app.post(f"{path}/pictures", {"url": item["url"]})
    stored = found["pictures"]
    assert ([item["url"] for item in stored], len(found["waiting"])) == (
        [item["url"] for item in waiting[:3]],
        len(waiting) - 3,
    )
    site = app.post(path, {"by": "Ada"})["site"]
    shown = [{"id": item["id"], "alt": f"View {at}"} for at, item in enumerate(stored)]
    asked = {"sections": site["sections"], "theme": site["theme"], "colours": site["colours"], "pictures": shown}
    assert app.put(path, asked)["site"]["pictures"] == shown
    tree = LexborHTMLParser(app.text(f"{path}/preview/index.html"))
    (picture,) = tree.css(".hero img")
    assert picture.attributes["alt"] == "View 0"
    assert len(LexborHTMLParser(app.text(f"{path}/preview/services.html")).css(".gallery img")) == 1
    with Image.open(io.BytesIO(body_of(app, f"{path}/preview/{picture.attributes['src']}"))) as file:
        assert f"{file.width}x{file.height}" == f"{picture.attributes['width']}x{picture.attributes['height']}"
    assert in_zip(app, number) == set(), "nobody has asked the owner yet"
    agreed = app.put(f"{path}/consent", {"agreed": True, "by": "Ada"})
    assert {item["agreed_by"] for item in agreed["pictures"]} == {"Ada"}
    kept = in_zip(app, number)
    assert {name.rpartition(".")[2] for name in kept} == {"avif", "webp"}
    assert {name.split("/")[1].split("-")[0] for name in kept} == {str(item["id"]) for item in stored}
    again = app.post(path, {"by": "Ada"})["site"]
    assert again["pictures"] == shown, "a website begun anew keeps its pictures"
    address = app.post(f"{path}/share", {"by": "Ada"})["site"]["address"]
    public = "/o/site/" + address.split("/o/site/")[1]
    assert opened(app, f"{public}{picture.attributes['src']}")[0] == 200
    assert opened(app, f"{public}pictures/{stored[0]['id']}-481.webp")[0] == 404


def test_nothing_else_is_fetched_or_shown(app: Application) -> None:
    number, waiting = with_pictures(app)
    path = f"/api/businesses/{number}/website"
    for strange in ("http://127.0.0.1:9/x.jpg", waiting[0]["url"] + "?", ""):
        assert failing(app, "POST", f"{path}/pictures", {"url": strange})[0] == 404
    found = app.post(f"{path}/pictures", {"url": waiting[0]["url"]})
    other = next(one for one in ids_of(app) if one != number and one != site_of(app)[0])
    picture = found["pictures"][0]
    file = f"pictures/{picture['id']}/{picture['widths'][0]}.webp"
    assert body_of(app, f"{path}/{file}")[8:12] == b"WEBP"
    assert failing(app, "GET", f"/api/businesses/{other}/website/{file}")[0] == 404
    site = app.post(f"/api/businesses/{other}/website", {"by": "Ada"})["site"]
    asked = {"sections": site["sections"], "theme": site["theme"], "colours": site["colours"]}
    status, problem = failing(
        app, "PUT", f"/api/businesses/{other}/website", asked | {"pictures": [{"id": picture["id"], "alt": ""}]}
    )
    assert (status, problem["where"]) == (422, "website"), json.dumps(problem)
