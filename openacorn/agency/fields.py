"""Settings as fields of a form, made from the model; keys and passwords are never among the values."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from openacorn.gather.sources._source import PublicService, services
from openacorn.settings import MONEY, SECTIONS, MailSettings, Settings, SourceSettings, WritingSettings


@dataclass(frozen=True, slots=True)
class SettingField:
    """One field. name: dotted, as in the file. kind: text, whole, number, yes_no, choice, list, place, country or secret.

    value and default: None for a secret; is_set: whether a secret is kept. least, most: limits of a number.
    """

    name: str
    title: str
    meaning: str
    kind: str
    unit: str
    value: Any
    default: Any
    choices: tuple[str, ...] = ()
    least: float | None = None
    most: float | None = None
    is_set: bool = False
    restart: bool = False


@dataclass(frozen=True, slots=True)
class SettingSection:
    """Fields that belong together. trial: what can be tried of them ("mail", "registry", a source's id), "" for nothing.

    public: a service that anybody may use there, as it stands.
    """

    id: str
    title: str
    about: str
    trial: str
    fields: tuple[SettingField, ...]
    public: PublicService | None = None


NESTED: dict[str, type[MailSettings | WritingSettings]] = {"mail": MailSettings, "writing": WritingSettings}
"""Settings that have fields of their own."""

TRIALS = {"mail": "mail", "domains": "registry", "writing": "writing"}
ABOUT = {
    "writing": "Rewords messages when you ask for it. Their text and the facts on the business go to this server. "
    "What it writes is used only if it says nothing else."
}
KINDS = {"integer": "whole", "number": "number", "boolean": "yes_no", "array": "list"}


def _kind(shape: Mapping[str, Any]) -> str:
    if shape.get("secret"):
        return "secret"
    if "enum" in shape:
        return "choice"
    if "prefixItems" in shape:
        return "place"
    return str(shape.get("kind") or KINDS.get(str(shape.get("type")), "text"))


def _field(name: str, shape: Mapping[str, Any], value: Any, currency: str) -> SettingField:
    """A field out of its JSON schema."""
    inner: Mapping[str, Any] = next((part for part in shape.get("anyOf", ()) if part.get("type") != "null"), {})
    shape = {**inner, **shape}
    kind, secret = _kind(shape), bool(shape.get("secret"))
    unit = str(shape.get("unit", ""))
    return SettingField(
        name=name, title=str(shape.get("title", name)), meaning=str(shape.get("description", "")), kind=kind,
        unit=currency if unit == MONEY else unit, value=None if secret else value, default=None if secret else shape.get("default"),
        choices=tuple(shape.get("enum", ())), least=shape.get("minimum"), most=shape.get("maximum"),
        is_set=secret and bool(value), restart=bool(shape.get("restart")),
    )  # fmt: skip


def _nested(
    model: type[MailSettings | SourceSettings | WritingSettings], prefix: str, values: Mapping[str, Any], currency: str
) -> Iterator[SettingField]:
    for name, shape in model.model_json_schema()["properties"].items():
        yield _field(f"{prefix}.{name}", shape, values.get(name), currency)


def sections(settings: Settings) -> list[SettingSection]:
    """The settings by section, as they are now."""
    raw, found = settings.model_dump(mode="json"), dict[str, list[SettingField]]()
    for name, shape in Settings.model_json_schema()["properties"].items():
        section = shape.get("section")
        if not section:
            continue
        parts = found.setdefault(section, [])
        if name in NESTED:
            parts += _nested(NESTED[name], name, raw[name], settings.currency)
        else:
            parts.append(_field(name, shape, raw[name], settings.currency))
    return [
        SettingSection(key, title, ABOUT.get(key, ""), TRIALS.get(key, ""), tuple(found[key]))
        for key, title in SECTIONS.items()
    ]


def source_sections(settings: Settings) -> list[SettingSection]:
    """Each source's address, key, pace and prices."""
    return [
        SettingSection(
            f"sources.{source.id}", source.title, source.hint, source.id,
            tuple(_nested(SourceSettings, f"sources.{source.id}", settings.source(source.id).model_dump(), settings.currency)),
            source.public,
        )
        for source in services()
    ]  # fmt: skip
