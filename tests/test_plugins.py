"""Plug-ins are found by scan; a half-written one stops the start by its name."""

import sys
from pathlib import Path
from types import ModuleType

import pytest

from openacorn.core.audit.check import Check, all_checks
from openacorn.core.desk.angle import shipped_angles
from openacorn.core.export.format import all_formats
from openacorn.core.score.service import all_services
from openacorn.gather.sources._source import all_sources
from openacorn.plugins import PluginError, scan


def make_package(folder: Path, name: str, files: dict[str, str], monkeypatch: pytest.MonkeyPatch) -> ModuleType:
    package = folder / name
    package.mkdir()
    (package / "__init__.py").write_text("")
    for file, text in files.items():
        (package / file).write_text(text)
    monkeypatch.syspath_prepend(str(folder))
    __import__(name)
    return sys.modules[name]


def test_scan_finds_constants_and_passes_over_helpers(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    package = make_package(
        tmp_path, "good_plugins", {"b.py": "THING = 2", "a.py": "THING = 1", "_help.py": ""}, monkeypatch
    )
    assert scan(package, "THING", int) == (1, 2)


@pytest.mark.parametrize("text", ["", "THING = 'a word'"], ids=["no constant", "wrong kind"])
def test_a_file_without_its_constant_is_named(text: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    name = f"bad_plugins_{len(text)}"
    package = make_package(tmp_path, name, {"half.py": text}, monkeypatch)
    with pytest.raises(PluginError, match=rf"{name}/half\.py must define THING, a int"):
        scan(package, "THING", int)


def test_every_file_of_a_plugin_folder_is_registered_under_its_own_name() -> None:
    folder = Path(__file__).resolve().parents[1] / "openacorn"
    for part, ids in (
        ("core/audit/checks", {check.id for check in all_checks()}),
        ("core/score/services", {service.id for service in all_services()}),
        ("core/export/formats", set(all_formats())),
        ("core/desk/angles", {angle.id for angle in shipped_angles()}),
        ("gather/sources", set(all_sources())),
    ):
        paths = (*(folder / part).glob("*.py"), *(folder / part / "recipes").glob("*.json"))
        files = {path.stem for path in paths if not path.stem.startswith("_")}
        assert files == ids, part


def test_services_ask_only_for_checks_that_exist() -> None:
    known = {check.id for check in all_checks()}
    for service in all_services():
        assert {rule.check for rule in service.rules} | {gate.check for gate in service.gates} <= known
        assert service.margin > 0


def test_every_check_says_why_an_owner_should_care() -> None:
    for check in all_checks():
        assert isinstance(check, Check)
        assert check.why.endswith(".")
        assert check.evaluate.__doc__
