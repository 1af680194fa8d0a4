"""What a machine lacks is told with its remedy; each part is tried for real."""

from pathlib import Path

import dns.resolver
import pytest

from openacorn.agency import health
from openacorn.agency.health import HealthPart, HealthState, examine
from openacorn.settings import Settings, SourceSettings
from openacorn.settings_file import save_settings
from openacorn.sim.serve import free_ports
from tests.application import NURSERY
from tests.conftest import Coast


def asking(port: int) -> dns.resolver.Resolver:
    found = dns.resolver.Resolver(configure=False)
    found.nameservers, found.port = ["127.0.0.1"], port
    return found


def parts(folder: Path, port: int, mail_port: int = 25) -> dict[str, HealthPart]:
    return {part.name: part for part in examine(folder, resolver=asking(port), mail_port=mail_port)}


@pytest.fixture
def nobody(monkeypatch: pytest.MonkeyPatch) -> int:
    monkeypatch.setattr(health, "SECONDS", 0.3)
    return free_ports(1)[0]


@pytest.mark.world
def test_on_a_machine_that_has_everything_nothing_is_missing(coast: Coast, tmp_path: Path) -> None:
    truth = coast.read("sites.json")
    host = next(row["host"] for row in truth if row["mx"] and row["transport"] == "ok" and row["host"].count(".") == 1)
    save_settings(tmp_path, Settings(agency="Wrenfold Studio", contact_address=f"hello@{host}"))
    world = coast.settings.world
    assert world is not None
    found = parts(tmp_path, world.dns_port, world.smtp_port)
    assert {part.name: part.said for part in found.values() if part.state is not HealthState.OK} == {}
    assert found["mail port"].said == f"the mail server of {host} answers"


def test_what_does_not_answer_is_named_with_its_remedy(tmp_path: Path, nobody: int) -> None:
    save_settings(tmp_path, Settings(contact_address="hello@wrenfold.example"))
    found = parts(tmp_path, nobody)
    assert found["name server"].state is found["mail port"].state is HealthState.MISSING
    assert "127.0.0.1" in found["name server"].said
    assert all(part.remedy for part in found.values() if part.state in {HealthState.MISSING, HealthState.LOW})
    (tmp_path / "settings.json").write_text('{"agency": 1}')
    found = parts(tmp_path, nobody)
    assert (found["settings"].state, "agency" in found["settings"].said) == (HealthState.MISSING, True)
    assert found["mail port"].state is HealthState.NOT_TRIED


def test_a_missing_browser_and_a_full_disk(tmp_path: Path, nobody: int, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("PATH", str(tmp_path))
    monkeypatch.setattr(health, "ROOM_MB", 10**12)
    found = parts(tmp_path / "not" / "there" / "yet", nobody)
    assert (found["browser"].state, found["data folder"].state) == (HealthState.MISSING, HealthState.LOW)
    monkeypatch.setattr(health, "LEAST_MB", 10**12)
    assert parts(tmp_path, nobody)["data folder"].state is HealthState.MISSING


@pytest.mark.world
def test_the_command_prints_a_line_a_part(tmp_path: Path) -> None:
    done = NURSERY.run(["doctor", "--data", str(tmp_path)], None, within_s=60)
    assert (done.returncode, done.stderr) == (0, "")
    assert [line.split()[0] for line in done.stdout.splitlines() if "→" not in line].count("ok") >= 4
    assert "no contact e-mail is set" in done.stdout


def test_a_store_that_cannot_be_opened_hides_no_other_part(tmp_path: Path, nobody: int) -> None:
    save_settings(tmp_path, Settings(sources={"map_data": SourceSettings(endpoint="https://maps.example/")}))
    (tmp_path / "acorn.db").write_bytes(b"no database" * 999)
    assert parts(tmp_path, nobody)["source: Open map data"].state is HealthState.NOT_TRIED
