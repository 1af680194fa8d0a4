"""Message templates: list, save, try on a business."""

import sqlite3
from collections import Counter
from collections.abc import Iterator
from typing import Any

from fastapi import APIRouter

from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import DeskRoute
from openacorn.business.store import audits, businesses, shortlists
from openacorn.clock import utc_now
from openacorn.core.languages.catalogue import ENGLISH, LANGUAGES
from openacorn.core.outreach.message_check import Remark, check_message
from openacorn.core.outreach.message_kind import MessageKind, text_length, words
from openacorn.core.outreach.message_template import SLOTS, MessageTemplate
from openacorn.outreach import template_library
from openacorn.outreach.message_facts import Draft, Sender, fill_in
from openacorn.outreach.owner_pages import letterhead
from openacorn.outreach.pitch import Pitcher, angles_of
from openacorn.outreach.recipients import Recipients
from openacorn.outreach.schemas.templates import (
    FittingBusiness,
    LeftOut,
    Slot,
    TemplateFitRequest,
    TemplateFitResponse,
    TemplatePreview,
    TemplatePreviewRequest,
    TemplateRequest,
    TemplatesResponse,
)
from openacorn.outreach.store import owner_pages
from openacorn.outreach.store.templates import TemplateVersion
from openacorn.outreach.whereabouts import language_of_owner

TRIED = 100
"""Businesses of a list that a template is tried on: enough to choose by, and soon there."""

router = APIRouter(route_class=DeskRoute, tags=["message templates"])


def _template(asked: TemplateRequest) -> MessageTemplate:
    return MessageTemplate(
        asked.id,
        asked.kind,
        asked.name.strip(),
        asked.text,
        asked.subject,
        asked.service,
        asked.variant,
        asked.language or ENGLISH,
    )


@router.get("/message-templates")
def list_templates(state: AppDep) -> TemplatesResponse:
    """All templates that are offered, and the facts that they can ask for."""
    with state.database.read() as conn:
        found = list(template_library.all_templates(conn).values())
    return TemplatesResponse(
        templates=found, slots=[Slot(name=name, meaning=meaning) for name, meaning in SLOTS.items()]
    )


@router.put("/message-templates")
def save_template(state: AppDep, asked: TemplateRequest) -> TemplateVersion:
    """Save a template as its next version, or as a new one."""
    with state.database.write() as conn:
        return template_library.save_template(conn, _template(asked), utc_now(), asked.by.strip())


@router.get("/message-template-versions")
def list_versions(state: AppDep, id: str) -> list[TemplateVersion]:
    """Every version of a template, the newest first."""
    with state.database.read() as conn:
        return template_library.versions_of(conn, id)


@router.delete("/message-templates", status_code=204)
def drop_template(state: AppDep, id: str, by: str = "") -> None:
    """Offer a template no more; its versions stay."""
    with state.database.write() as conn:
        template_library.drop_template(conn, id, utc_now(), by)


def _drafts(
    state: AppState, conn: sqlite3.Connection, asked: TemplateRequest, ids: list[int]
) -> Iterator[tuple[dict[str, Any], Draft]]:
    """Each business with what it would get of a template."""
    template, by = _template(asked), asked.by.strip()
    pitcher, recipients = Pitcher(conn, region=state.settings.region), Recipients(conn, state.settings, "")
    holding = angles_of(conn, state.snapshot, ids, pitcher.now)
    tokens = owner_pages.open_tokens(conn, ids)
    head = letterhead(conn, state.settings)
    for row in businesses.get_businesses(conn, ids):
        pitch = pitcher.pitch(row, holding[row["id"]], template.service)
        page = state.settings.public_url(f"/o/{tokens[row['id']]}") if row["id"] in tokens else ""
        address = recipients.address_of(row["id"], pitch.people).email
        yield row, fill_in(template, pitch, Sender(head, by, page), address)


@router.post("/message-template-preview")
def preview(state: AppDep, asked: TemplatePreviewRequest) -> TemplatePreview:
    """Fill in a template for a business: what it would get, what each sentence rests on, what to think about."""
    with state.database.read() as conn:
        businesses.get_business(conn, asked.business_id)
        ((row, draft),) = _drafts(state, conn, asked, [asked.business_id])
        audit = audits.get_evidence(conn, asked.business_id)
        reads = language_of_owner(conn, row, audit, state.settings.region)
    if draft.written is None:
        return TemplatePreview(subject="", sentences=[], text="", left_out=draft.left_out, length="", remarks=[])
    text = draft.written.text
    remarks = check_message(asked.kind, draft.subject, text, draft.language)
    if draft.language != reads:
        remarks.append(Remark("note", f"the owner reads {LANGUAGES[reads]}, and this text is there in English only"))
    return TemplatePreview(
        subject=draft.subject, sentences=list(draft.written.sentences), text=text, left_out="", length=_length(asked.kind, text),
        remarks=remarks, language=draft.language,
    )  # fmt: skip


@router.post("/message-template-fit")
def fit(state: AppDep, asked: TemplateFitRequest) -> TemplateFitResponse:
    """Who of a shortlist gets a template, and why others do not."""
    with state.database.read() as conn:
        shortlists.must_exist(conn, asked.shortlist)
        ids = shortlists.member_ids(conn, asked.shortlist)
        found = [(row, draft.left_out) for row, draft in _drafts(state, conn, asked, ids[:TRIED])]
    reasons = Counter(reason for _, reason in found if reason)
    return TemplateFitResponse(
        fitting=[FittingBusiness(id=row["id"], name=row["name"]) for row, reason in found if not reason],
        left_out=[LeftOut(reason=reason, count=count) for reason, count in reasons.most_common()],
        tried=len(found), members=len(ids),
    )  # fmt: skip


def _length(kind: MessageKind, text: str) -> str:
    if kind is not MessageKind.TEXT:
        return f"{words(text)} words"
    length = text_length(text)
    return f"{length.units} characters in {length.parts} text message{'s' if length.parts > 1 else ''}"
