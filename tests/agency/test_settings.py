"""Settings: kept in a file that people can read and mend, keys sealed in it, changed and tried over the API without a restart."""

import json
import urllib.error
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from aiosmtpd.controller import Controller
from aiosmtpd.handlers import Message

from openacorn.db import secrets
from openacorn.settings import SECTIONS, Settings
from openacorn.settings_file import SETTINGS, SettingsError, change_settings, load_settings, save_settings, unopened
from openacorn.sim.serve import free_ports
from tests.application import Application
from tests.web.strangers import strangers

KEY = "k-5514-of-the-listing-service"


def test_keys_and_passwords_are_sealed_in_the_file_and_opened_when_it_is_read(tmp_path: Path) -> None:
    settings = Settings()
    change_settings(tmp_path, settings, {"sources.listing_service.key": KEY, "mail.password": KEY, "agency": "Küche"})
    text = (tmp_path / SETTINGS).read_text(encoding="utf-8")
    assert KEY not in text
    assert '"agency": "Küche"' in text
    assert load_settings(tmp_path) == settings
    assert (settings.source("listing_service").key, settings.mail.password) == (KEY, KEY)
    # a key that somebody wrote by hand is taken, and sealed at the next change
    raw = json.loads(text)
    raw["mail"]["password"] = "by hand"
    (tmp_path / SETTINGS).write_text(json.dumps(raw))
    change_settings(tmp_path, settings, {"workers": 3})
    assert settings.mail.password == "by hand"
    assert "by hand" not in (tmp_path / SETTINGS).read_text()
    (tmp_path / secrets.KEY_FILE).unlink()
    assert load_settings(tmp_path).mail.password == ""
    assert unopened(tmp_path) == 2


BROKEN = [
    ('{\n "agency": "A",\n "mail": {\n  "port": "many"\n }\n}', 4, "mail.port: this must be a whole number"),
    ('{\n "workers": 99\n}', 2, "workers: this must be 16 or less"),
    ('{\n\n "colour": "red"}', 3, "colour: there is no setting of that name"),
    ('{"agency": "A",\n "workers": }', 2, "this is not JSON"),
    ('{\n "trusted_proxies": [\n "nowhere"]}', 2, "trusted_proxies.0: this is no IP address"),
    ('{"sources": {\n "map_data": {\n  "endpoint": "ftp://maps"}}}', 3, "sources.map_data.endpoint: \"ftp://maps\""),
    ("[]", 1, "the file:"),
]  # fmt: skip


@pytest.mark.parametrize(("text", "line", "said"), BROKEN)
def test_a_broken_file_is_named_with_line_and_field(tmp_path: Path, text: str, line: int, said: str) -> None:
    (tmp_path / SETTINGS).write_text(text)
    with pytest.raises(SettingsError) as caught:
        load_settings(tmp_path)
    assert f"settings.json, line {line}: " in str(caught.value)
    assert said in str(caught.value)
    # what is broken is never written over
    with pytest.raises(SettingsError):
        change_settings(tmp_path, Settings(), {"workers": 3})
    assert (tmp_path / SETTINGS).read_text() == text


def test_every_setting_has_a_name_and_a_place_on_the_screen() -> None:
    shapes = Settings.model_json_schema()["properties"]
    hidden = {"sources", "set_up", "world"}
    assert {name for name, shape in shapes.items() if shape.get("section") not in SECTIONS} == hidden
    assert all(shape["title"] for name, shape in shapes.items() if name not in hidden)


class Kept(Message):  # type: ignore[misc]
    """A mail server that keeps what it is sent."""

    def __init__(self) -> None:
        super().__init__()
        self.subjects: list[str] = []

    def handle_message(self, message: Any) -> None:
        self.subjects.append(message["Subject"])


@pytest.fixture(scope="module")
def app(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    running = Application(tmp_path_factory.mktemp("agency") / "data")
    running.start()
    yield running
    running.end()


def tried(app: Application, what: str, **more: Any) -> dict[str, Any]:
    answer: dict[str, Any] = app.post("/api/settings/trials", {"what": what, **more})
    return answer


@pytest.mark.world
def test_a_change_takes_effect_at_once_and_a_refused_one_names_its_field(app: Application) -> None:
    assert app.get("/api/status")["fresh"]
    home = app.put("/api/settings/home", {"country": "GB", "lat": 51.38, "lon": -2.36})
    assert home == {"country": "GB", "currency": "GBP", "units": "mi", "time_zone": "Europe/London", "locale": "en-GB"}
    app.put("/api/settings", {"values": {"agency": "Bath & Co", "sources.listing_service.key": KEY}})
    status = app.get("/api/status")
    assert (status["agency"], status["currency"], status["home"]) == ("Bath & Co", "GBP", [51.38, -2.36])
    shown = app.get("/api/settings")
    assert KEY not in json.dumps(shown)
    field = next(f for s in shown["sources"] for f in s["fields"] if f["name"] == "sources.listing_service.key")
    assert (field["kind"], field["value"], field["is_set"]) == ("secret", None, True)
    before = (app.folder / SETTINGS).read_text()
    for values, where, word in [
        ({"mail.port": "x"}, "mail.port", "whole number"),
        ({"workers": 0}, "workers", "1 or more"),
        ({"nonsense": 1}, "nonsense", "no setting"),
        ({"home": [1, "b"]}, "home", "number"),
        ({"world": None}, "world", "demo"),
        ({"agency": ""}, "agency", "empty"),
        ({"time_zone": "Mars/Base"}, "time_zone", "no time zone"),
    ]:
        with pytest.raises(urllib.error.HTTPError) as caught:
            app.put("/api/settings", {"values": values})
        error = json.load(caught.value)["error"]
        assert (caught.value.code, error["where"]) == (422, where), error
        assert word in error["what"]
    assert (app.folder / SETTINGS).read_text() == before


@pytest.mark.world
def test_each_test_makes_a_real_request_and_says_what_came_of_it(app: Application) -> None:
    closed = free_ports(1)[0]
    with strangers() as port:
        trust = {"trusted_hosts": [f"maps.localhost:{port}", f"shed.localhost:{port}", f"127.0.0.1:{closed}"]}
        there = {**trust, "sources.map_data.endpoint": f"http://maps.localhost:{port}/q", "home": [-36.905, 161.404]}
        found = tried(app, "map_data", values=there)
        assert found["ok"], found
        wrong = tried(
            app, "map_data", values={**there, "sources.map_data.endpoint": f"http://shed.localhost:{port}/find"}
        )
        assert (wrong["ok"], "not what a map data server sends" in wrong["said"]) == (False, True)
        down = tried(app, "map_data", values={**there, "sources.map_data.endpoint": f"http://127.0.0.1:{closed}/q"})
        assert not down["ok"]
        assert down["remedy"]
    kept = Kept()
    server = Controller(kept, hostname="127.0.0.1", port=free_ports(1)[0])
    server.start()
    try:
        mail = {"mail.host": "127.0.0.1", "mail.port": server.port, "contact_address": "hello@bath.example"}
        assert tried(app, "mail", values=mail)["ok"]
    finally:
        server.stop()
    assert kept.subjects == ["Open Acorn: a test"]
    assert not tried(app, "mail", values=mail)["ok"]
    assert not tried(app, "registry")["ok"]
    assert not tried(app, "webhook", address=f"http://127.0.0.1:{closed}/hook", values=trust)["ok"]
    assert app.get("/api/status")["home"] == [51.38, -2.36], "what was only tried is not kept"


def test_settings_as_they_were_before_sealing_are_read(tmp_path: Path) -> None:
    save_settings(tmp_path, Settings(agency="A"))
    assert load_settings(tmp_path).agency == "A"
