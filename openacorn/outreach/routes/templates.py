"""Message templates: list, save, try on a business."""

from fastapi import APIRouter

from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.business.store import businesses
from openacorn.clock import utc_now
from openacorn.core.outreach.message_check import check_message
from openacorn.core.outreach.message_kind import MessageKind, text_length, words
from openacorn.core.outreach.message_template import SLOTS, MessageTemplate
from openacorn.outreach import template_library
from openacorn.outreach.message_facts import Sender, fill_in
from openacorn.outreach.owner_pages import letterhead
from openacorn.outreach.pitch import Pitcher, angles_of
from openacorn.outreach.recipients import Recipients
from openacorn.outreach.routes.owner_pages import address_of
from openacorn.outreach.schemas.templates import (
    Slot,
    TemplatePreview,
    TemplatePreviewRequest,
    TemplateRequest,
    TemplatesResponse,
)
from openacorn.outreach.store import owner_pages
from openacorn.outreach.store.templates import TemplateVersion

router = APIRouter(route_class=DeskRoute, tags=["message templates"])


def _template(asked: TemplateRequest) -> MessageTemplate:
    return MessageTemplate(
        asked.id, asked.kind, asked.name.strip(), asked.text, asked.subject, asked.service, asked.variant
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


@router.post("/message-template-preview")
def preview(state: AppDep, asked: TemplatePreviewRequest) -> TemplatePreview:
    """Fill in a template for a business: what it would get, what each sentence rests on, what to think about."""
    template = _template(asked)
    with state.database.read() as conn:
        row = businesses.get_business(conn, asked.business_id)
        pitcher = Pitcher(conn)
        holding = angles_of(conn, state.snapshot, [row["id"]], pitcher.now)
        pitch = pitcher.pitch(row, holding[row["id"]], template.service)
        token = owner_pages.open_tokens(conn, [row["id"]]).get(row["id"])
        page = address_of(state, token) if token and state.settings.public_address else ""
        sender = Sender(letterhead(conn, state.settings), asked.by.strip(), page)
        address = Recipients(conn, state.settings, "").address_of(row["id"], pitch.people).email
        draft = fill_in(template, pitch, sender, address)
    if draft.written is None:
        return TemplatePreview(subject="", sentences=[], text="", left_out=draft.left_out, length="", remarks=[])
    text = draft.written.text
    return TemplatePreview(
        subject=draft.subject, sentences=list(draft.written.sentences), text=text, left_out="", length=_length(template.kind, text),
        remarks=check_message(template.kind, draft.subject, text),
    )  # fmt: skip


def _length(kind: MessageKind, text: str) -> str:
    if kind is not MessageKind.TEXT:
        return f"{words(text)} words"
    length = text_length(text)
    return f"{length.units} characters in {length.parts} text message{'s' if length.parts > 1 else ''}"
