"""Message templates of the user's own, and shipped ones as changed: every version is kept."""

import sqlite3
from dataclasses import dataclass

from openacorn.core.outreach.message_kind import MessageKind
from openacorn.core.outreach.message_template import MessageTemplate

LATEST = """
SELECT * FROM message_template AS one
WHERE version = (SELECT max(version) FROM message_template WHERE id = one.id) ORDER BY name
"""
VERSIONS = "SELECT * FROM message_template WHERE id = ? ORDER BY version DESC"
ADD = """
INSERT INTO message_template (id, version, kind, name, service, variant, subject, text, language, at, by, dropped)
VALUES (?, 1 + coalesce((SELECT max(version) FROM message_template WHERE id = ?), 0), ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
RETURNING version
"""


@dataclass(frozen=True, slots=True)
class TemplateVersion:
    """One version of a template. version 0: as shipped; dropped: not offered any more."""

    template: MessageTemplate
    version: int
    at: str = ""
    by: str = ""
    dropped: bool = False


def _version(row: sqlite3.Row) -> TemplateVersion:
    template = MessageTemplate(
        row["id"], MessageKind(row["kind"]), row["name"], row["text"], row["subject"], row["service"], row["variant"],
        row["language"],
    )  # fmt: skip
    return TemplateVersion(template, row["version"], row["at"], row["by"], bool(row["dropped"]))


def latest_versions(conn: sqlite3.Connection) -> dict[str, TemplateVersion]:
    """Id → its newest version, of all that were ever saved."""
    return {row["id"]: _version(row) for row in conn.execute(LATEST)}


def list_versions(conn: sqlite3.Connection, template_id: str) -> list[TemplateVersion]:
    """Every saved version of a template, the newest first."""
    return [_version(row) for row in conn.execute(VERSIONS, (template_id,))]


def insert_version(
    conn: sqlite3.Connection, template: MessageTemplate, at: str, by: str, *, dropped: bool = False
) -> int:
    """Save a template as its next version; return its number."""
    values = (
        template.id,
        template.id,
        template.kind,
        template.name,
        template.service,
        template.variant,
        template.subject,
        template.text,
        template.language,
    )
    return int(conn.execute(ADD, (*values, at, by, dropped)).fetchone()[0])
