"""Conversations: what arrived, what was said between us and a business, and answering it."""

import sqlite3

from fastapi import APIRouter

from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.business.store import businesses
from openacorn.clock import utc_now
from openacorn.core.outreach.incoming import IncomingKind
from openacorn.core.outreach.message_template import Sentence
from openacorn.errors import Conflict
from openacorn.outreach.schemas.conversations import (
    AnswerRequest,
    ConversationResponse,
    DoneRequest,
    InboxResponse,
    Turn,
)
from openacorn.outreach.store import incoming, messages

router = APIRouter(route_class=DeskRoute, tags=["conversations"])
SHOWN = 300
PEOPLE = (IncomingKind.REPLY, IncomingKind.REFUSAL, IncomingKind.OPT_OUT)
MACHINES = (IncomingKind.BOUNCE, IncomingKind.DELAY, IncomingKind.AUTOMATIC)


@router.get("/inbox")
def list_inbox(state: AppDep, machines: bool = False) -> InboxResponse:
    """What arrived: from people, or from machines (what came back, automatic answers)."""
    with state.database.read() as conn:
        found, left = incoming.list_incoming(conn, MACHINES if machines else PEOPLE, SHOWN)
    return InboxResponse(arrived=found, left=left)


@router.put("/inbox/{number}")
def mark(state: AppDep, number: int, asked: DoneRequest) -> InboxResponse:
    """Note that nothing is left to do about something that arrived, or that something is."""
    with state.database.write() as conn:
        incoming.mark_done(conn, number, done=asked.done)
    return list_inbox(state)


@router.post("/inbox/look")
async def look(state: AppDep) -> int:
    """Read the mailboxes now; the answer is how many messages were new."""
    return await state.receiving.step()


def _conversation(conn: sqlite3.Connection, business_id: int) -> ConversationResponse:
    row = businesses.get_business(conn, business_id)
    ours = [
        Turn(ours=True, number=item.id, at=item.sent_at or item.tried_at or item.due_at, who=item.by or "us", subject=item.subject,
             text=item.text, state=item.state, kind="", attachments=[])
        for item in messages.messages_of(conn, business_id)
        if item.state != "cancelled"
    ]  # fmt: skip
    arrived = incoming.incoming_of(conn, business_id)
    theirs = [
        Turn(ours=False, number=item.id, at=item.at, who=item.name or item.address, subject=item.subject, text=item.text, state="",
             kind=item.kind, attachments=list(item.attachments))
        for item in arrived
    ]  # fmt: skip
    last = next((item for item in reversed(arrived) if item.kind in PEOPLE), None)
    return ConversationResponse(
        business_id=business_id, business=row["name"], turns=sorted([*ours, *theirs], key=lambda turn: turn.at),
        answer_to=last.id if last else 0, address=last.address if last else "",
    )  # fmt: skip


@router.get("/businesses/{business_id}/conversation")
def show_conversation(state: AppDep, business_id: int) -> ConversationResponse:
    """Everything written to a business and everything that came back."""
    with state.database.read() as conn:
        return _conversation(conn, business_id)


@router.post("/businesses/{business_id}/conversation", status_code=201)
def answer(state: AppDep, business_id: int, asked: AnswerRequest) -> ConversationResponse:
    """Answer what somebody wrote, in its thread and by the mailbox that it came to; it leaves at once."""
    with state.database.write() as conn:
        row = businesses.get_business(conn, business_id)
        what = incoming.get_incoming(conn, asked.answers)
        if what.business_id != business_id:
            raise Conflict("that was written by another business")
        if row["relationship"] == "refused":
            raise Conflict(f"{row['name']} asked not to be contacted")
        by_text = what.mailbox_id == 0
        subject = "" if by_text else what.subject if what.subject.lower().startswith("re:") else f"Re: {what.subject}"
        messages.insert_message(conn, {
            "business_id": business_id, "kind": "text" if by_text else "email", "step": messages.AN_ANSWER, "address": what.address,
            "person": what.name,
            "subject": subject, "text": asked.text.strip(), "because": [Sentence(asked.text.strip())], "state": "waiting",
            "mailbox_id": what.mailbox_id, "in_reply_to": what.message_id, "due_at": utc_now(), "made_at": utc_now(),
            "by": asked.by.strip(),
        })  # fmt: skip
        incoming.mark_done(conn, what.id, done=True)
        found = _conversation(conn, business_id)
    (state.texting if by_text else state.sending).wake()
    return found
