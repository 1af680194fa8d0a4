"""What goes over the line packed: unpacked by the standard library it is what is sent to somebody who takes nothing packed."""

import gzip
import http.client
import re
import urllib.request
from collections.abc import Iterator

import pytest

from tests.application import Application, application
from tests.conftest import Coast

pytestmark = pytest.mark.world


@pytest.fixture(scope="module")
def app(coast: Coast, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    with application(tmp_path_factory.mktemp("packed"), coast.settings, coast.read("places.json")) as running:
        yield running


def asked(app: Application, path: str, encoding: str) -> tuple[bytes, http.client.HTTPMessage]:
    request = urllib.request.Request(app.url + path, headers={"Accept-Encoding": encoding} if encoding else {})
    with urllib.request.urlopen(request, timeout=60) as answer:
        return answer.read(), answer.headers


def test_files_of_the_pages_are_packed_and_kept_for_good(app: Application) -> None:
    page = asked(app, "/", "")[0].decode()
    for path in re.findall(r'(?:src|href)="(/assets/[^"]+)"', page):
        whole, plain = asked(app, path, "")
        packed, headers = asked(app, path, "gzip, deflate")
        smallest, best = asked(app, path, "gzip, deflate, br, zstd")
        assert plain["Content-Encoding"] is None
        assert (headers["Content-Encoding"], best["Content-Encoding"]) == ("gzip", "br")
        assert gzip.decompress(packed) == whole
        assert len(smallest) < len(packed) < len(whole)
        for sent in (plain, headers, best):
            assert sent["Cache-Control"].endswith("immutable")
            assert sent["Vary"] == "Accept-Encoding"
            assert sent.get_content_type() in {"text/javascript", "text/css"}
    assert asked(app, "/", "")[1]["Cache-Control"] == "no-cache"  # names what is new after an upgrade


def test_long_answers_are_packed_for_who_takes_that(app: Application) -> None:
    whole, plain = asked(app, "/api/checks", "")
    packed, headers = asked(app, "/api/checks", "gzip")
    assert (plain["Content-Encoding"], headers["Content-Encoding"]) == (None, "gzip")
    assert gzip.decompress(packed) == whole
    assert len(packed) < len(whole) / 2
    assert asked(app, "/api/me", "gzip")[1]["Content-Encoding"] is None  # too short to be worth it
