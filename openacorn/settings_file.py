"""The file that settings are kept in: readable, edited by hand if need be, written in one step; keys and passwords sealed in it."""

import json
import logging
from collections.abc import Callable, Iterator, Mapping
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from openacorn.db import secrets
from openacorn.db.folder import make_private, write_private
from openacorn.errors import Conflict, InvalidInput
from openacorn.settings import Settings

SETTINGS = "settings.json"
SEALED = "sealed:"
"""What the text of a sealed key or password begins with in the file."""

log = logging.getLogger(__name__)


class SettingsError(Conflict):
    """The settings file cannot be used; the message names the line and the field."""

    where = "settings"
    remedy = "correct that part of the file, or delete the file to start from defaults"


class SettingRefused(InvalidInput):
    """A value that was entered cannot be used; `where` is the field."""

    remedy = "correct that field and save again"

    def __init__(self, what: str, where: str) -> None:
        super().__init__(what)
        self.where = where


def _in_words(fault: Mapping[str, Any]) -> str:
    """A fault that pydantic found, in words that anybody understands."""
    limits, kind = fault.get("ctx", {}), fault["type"]
    words = {
        "extra_forbidden": "there is no setting of that name",
        "string_type": "this must be a text",
        "int_parsing": "this must be a whole number",
        "int_from_float": "this must be a whole number",
        "int_type": "this must be a whole number",
        "float_parsing": "this must be a number",
        "float_type": "this must be a number",
        "bool_parsing": "this must be true or false",
        "greater_than_equal": f"this must be {limits.get('ge')} or more",
        "less_than_equal": f"this must be {limits.get('le')} or less",
        "string_too_long": f"this must be no longer than {limits.get('max_length')} characters",
        "string_too_short": "this must not be empty",
        "too_long": f"this may hold no more than {limits.get('max_length')}",
        "ip_any_address": "this is no IP address",
        "literal_error": f"this must be {limits.get('expected')}",
    }
    if kind == "string_pattern_mismatch":
        return f"{json.dumps(fault['input'], ensure_ascii=False)} is not written as it must be"
    return words.get(kind) or str(fault["msg"]).removeprefix("Value error, ")


def _line_of(text: str, path: tuple[str | int, ...]) -> int:
    """The line on which a field stands, as far as it can be found by its names; 1 for the first."""
    at = 0
    for name in path:
        found = text.find(f'"{name}"', at)
        at = found if found >= 0 else at
    return text.count("\n", 0, at) + 1


def _secrets_in(raw: dict[str, Any]) -> Iterator[tuple[dict[str, Any], str]]:
    """(object, name) of each place in the file that holds a key or password."""
    sources = raw.get("sources")
    for section, name in (("mail", "password"), ("writing", "key")):
        if isinstance(raw.get(section), dict):
            yield raw[section], name
    for source in sources.values() if isinstance(sources, dict) else ():
        if isinstance(source, dict):
            yield source, "key"


def _change_secrets(raw: dict[str, Any], change: Callable[[str], str]) -> None:
    for holder, name in _secrets_in(raw):
        if isinstance(holder.get(name), str) and holder[name]:
            holder[name] = change(holder[name])


def _opened(folder: Path, text: str) -> str:
    """A sealed text opened; "" if it was sealed with another key. Text that is not sealed is as it is."""
    if not text.startswith(SEALED):
        return text
    try:
        return secrets.unseal(folder, text.removeprefix(SEALED))
    except secrets.SealBroken:
        log.warning("a key or password in %s was sealed with another secret.key: enter it again", SETTINGS)
        return ""


def unopened(folder: Path) -> int:
    """How many keys and passwords of the file cannot be opened any more."""
    try:
        raw = json.loads((folder / SETTINGS).read_text(encoding="utf-8-sig"))
    except (OSError, ValueError):
        return 0
    kept = [holder.get(name) for holder, name in _secrets_in(raw)] if isinstance(raw, dict) else []
    return sum(isinstance(text, str) and text.startswith(SEALED) and not _opened(folder, text) for text in kept)


def load_settings(folder: Path) -> Settings:
    """Read the file in the data folder; defaults if there is none. Raises SettingsError naming line, field and fault."""
    path = folder / SETTINGS
    if not path.exists():
        return Settings()
    try:
        text = path.read_text(encoding="utf-8-sig")
        raw = json.loads(text)
    except UnicodeDecodeError:
        raise SettingsError(f"{path} is not UTF-8 text; save it in that encoding, or delete it") from None
    except OSError as error:
        raise SettingsError(f"{path} cannot be read: {error.strerror}") from None
    except json.JSONDecodeError as error:
        raise SettingsError(f"{path}, line {error.lineno}: this is not JSON: {error.msg}") from None
    if isinstance(raw, dict):
        _change_secrets(raw, lambda sealed: _opened(folder, sealed))
    try:
        return Settings.model_validate(raw)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"]) or "the file"
        line = _line_of(text, first["loc"])
        raise SettingsError(f"{path}, line {line}: {where}: {_in_words(first)}") from None


def save_settings(folder: Path, settings: Settings) -> None:
    """Write the file in one step, so that a kill cannot leave half of it; keys and passwords are sealed."""
    make_private(folder)
    raw = settings.model_dump(mode="json")
    _change_secrets(raw, lambda plain: SEALED + secrets.seal(folder, plain))
    write_private(folder / SETTINGS, (json.dumps(raw, indent=2, ensure_ascii=False) + "\n").encode())


def changed_settings(settings: Settings, values: Mapping[str, Any]) -> Settings:
    """Settings with some values changed. values: by dotted name, "mail.port". Raises SettingRefused naming the field."""
    raw = settings.model_dump(mode="json")
    for name, value in values.items():
        *path, last = name.split(".")
        part: Any = raw
        for step in path:
            part = part.setdefault(step, {}) if isinstance(part, dict) else None
        if not isinstance(part, dict):
            raise SettingRefused(f"there is no setting {name!r}", name)
        part[last] = value
    try:
        return Settings.model_validate(raw)
    except ValidationError as error:
        first = error.errors()[0]
        parts = [str(part) for part in first["loc"]]
        where = next((name for name in values if name.split(".") == parts[: len(name.split("."))]), ".".join(parts))
        raise SettingRefused(_in_words(first), where) from None


def change_settings(folder: Path, settings: Settings, values: Mapping[str, Any]) -> None:
    """Change values, keep them in the file, and let everybody work by them at once.

    What was changed in the file by hand meanwhile is kept: the values go into the file as it is. Raises SettingsError,
    SettingRefused.
    """
    now = load_settings(folder) if (folder / SETTINGS).exists() else settings
    changed = changed_settings(now, values)
    save_settings(folder, changed)
    settings.take(changed)
