"""The templates there are: those that ship, one file a service, under what the user changed and added."""

import re
import sqlite3
import tomllib
from dataclasses import replace
from functools import cache
from pathlib import Path
from typing import Any

from openacorn.core.audit.check import check_ids
from openacorn.core.outreach.message_kind import MessageKind
from openacorn.core.outreach.message_template import MessageTemplate, TemplateError, check_template
from openacorn.errors import NotFound
from openacorn.outreach.store import templates
from openacorn.outreach.store.templates import TemplateVersion
from openacorn.plugins import PluginError

SHIPPED = Path(__file__).parent / "shipped"


def _slug(text: str) -> str:
    return re.sub(r"[^a-z0-9]+", "-", text.lower()).strip("-")


def _template(service: str, kind: str, raw: dict[str, Any]) -> MessageTemplate:
    template = MessageTemplate(
        f"{service}/{kind}/{_slug(raw['name'])}",
        MessageKind(kind),
        raw["name"],
        raw["text"].strip(),
        raw.get("subject", ""),
        service,
    )
    for part in (template.subject, template.text):
        check_template(part, check_ids())
    return template


@cache
def shipped_templates() -> dict[str, MessageTemplate]:
    """Id → template, of all that ship. Raises PluginError, naming the file, for one that cannot be used."""
    found: dict[str, MessageTemplate] = {}
    for file in sorted(SHIPPED.glob("*.toml")):
        try:
            for kind, entries in tomllib.loads(file.read_text(encoding="utf-8")).items():
                found |= {made.id: made for made in (_template(file.stem, kind, raw) for raw in entries)}
        except (tomllib.TOMLDecodeError, KeyError, ValueError, TemplateError) as error:
            raise PluginError(f"openacorn/outreach/shipped/{file.name}: {error}") from None
    return found


def all_templates(conn: sqlite3.Connection) -> dict[str, TemplateVersion]:
    """Id → template as it is used now, of all that are offered."""
    shipped = {key: TemplateVersion(template, 0) for key, template in shipped_templates().items()}
    return {key: found for key, found in (shipped | templates.latest_versions(conn)).items() if not found.dropped}


def get_template(conn: sqlite3.Connection, template_id: str) -> TemplateVersion:
    """A template as it is used now. Raises NotFound."""
    found = all_templates(conn).get(template_id)
    if found is None:
        raise NotFound(f"there is no template {template_id!r}")
    return found


def versions_of(conn: sqlite3.Connection, template_id: str) -> list[TemplateVersion]:
    """Every version of a template, the newest first, the shipped one last."""
    shipped = shipped_templates().get(template_id)
    return [*templates.list_versions(conn, template_id), *([TemplateVersion(shipped, 0)] if shipped else [])]


def save_template(conn: sqlite3.Connection, template: MessageTemplate, at: str, by: str) -> TemplateVersion:
    """Save a template as its next version; one without an id is new. Raises TemplateError."""
    if not template.name.strip():
        raise TemplateError("the template has no name")
    for part, where in ((template.subject, "subject"), (template.text, "text")):
        try:
            check_template(part, check_ids())
        except TemplateError as error:
            error.where = where
            raise
    if not template.id:
        taken, base = all_templates(conn), f"own/{template.kind}/{_slug(template.name) or 'template'}"
        names = [base, *(f"{base}-{number}" for number in range(2, 1000))]
        template = replace(template, id=next(name for name in names if name not in taken))
    version = templates.insert_version(conn, template, at, by)
    return TemplateVersion(template, version, at, by)


def drop_template(conn: sqlite3.Connection, template_id: str, at: str, by: str) -> None:
    """Offer a template no more; its versions stay. Raises NotFound."""
    found = get_template(conn, template_id)
    templates.insert_version(conn, found.template, at, by, dropped=True)


def choose(
    found: dict[str, TemplateVersion], wanted: tuple[str, ...], kind: MessageKind, service: str, turn: int, place: int
) -> list[TemplateVersion]:
    """Templates for a step, the first choice first: those wanted, beginning with another at each `turn`, so that they are tried
    alike; else those of the kind for the service in their own order from `place` on (-1: the last first)."""
    named = [found[key] for key in wanted if key in found]
    if named:
        at = turn % len(named)
        return [*named[at:], *named[:at]]
    fitting = [item for item in found.values() if item.template.kind is kind and item.template.service == service]
    at = place % len(fitting) if fitting else 0
    return [*fitting[at:], *fitting[:at]]
