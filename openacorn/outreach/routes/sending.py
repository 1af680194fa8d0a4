"""Sending: mailboxes, rules, the queue."""

import asyncio
import sqlite3
from typing import Annotated

from fastapi import APIRouter, Query

from openacorn.acting import acting_account
from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import DeskRoute
from openacorn.clock import now, utc_now
from openacorn.core.outreach.message_check import check_message
from openacorn.core.outreach.message_kind import MessageKind
from openacorn.core.outreach.sending import SendingRules
from openacorn.core.outreach.working_hours import Hours, zone_of
from openacorn.core.team.allowance import Allowance
from openacorn.core.writing.helper import Wish, words_asked
from openacorn.db import secrets
from openacorn.errors import Conflict
from openacorn.net.writing_helper import helper_host, reword
from openacorn.outreach import enrolments, mailbox_trials, queue
from openacorn.outreach.planning import COUNTED_DAYS, as_planned, send_rules
from openacorn.outreach.rewording import judge, reasons_kept, wish_for
from openacorn.outreach.schemas.sending import (
    ApproveRequest,
    MailboxRequest,
    MailboxResponse,
    MessageRequest,
    MessageResponse,
    QueueLine,
    QueueResponse,
    RewordRequest,
    RewordResponse,
    RulesModel,
    TestMessageRequest,
    TrialResponse,
)
from openacorn.outreach.store import mailboxes, messages, sequences
from openacorn.outreach.store.mailboxes import Mailbox
from openacorn.outreach.store.messages import Message, MessageState
from openacorn.team.allowances import check_allowance

router = APIRouter(route_class=DeskRoute, tags=["sending"])
PAGE = 100


def _boxes(state: AppState, conn: sqlite3.Connection) -> list[MailboxResponse]:
    moment = now()
    zone = zone_of(send_rules(conn, state.settings).zone)
    day = moment.astimezone(zone).date()
    sent = messages.sent_so_far(conn, (moment - COUNTED_DAYS).isoformat(timespec="seconds"), zone).days
    kept = secrets.kept(conn)
    found = []
    for box in mailboxes.list_mailboxes(conn):
        values = {name: getattr(box, name) for name in mailboxes.NAMES}
        extra = {
            "password_kept": box.secret in kept, "today": as_planned(box).limit_on(day), "sent_today": sent.get((box.id, day), 0)
        }  # fmt: skip
        found.append(MailboxResponse.model_validate(values | extra))
    return found


@router.get("/mailboxes")
def list_mailboxes(state: AppDep) -> list[MailboxResponse]:
    """All mailboxes, with what each has sent today."""
    with state.database.read() as conn:
        return _boxes(state, conn)


@router.put("/mailboxes")
def save_mailbox(state: AppDep, asked: MailboxRequest) -> list[MailboxResponse]:
    """Save a mailbox; its password is sealed and never shown again."""
    box = Mailbox(**asked.model_dump(exclude={"password"}))
    with state.database.write() as conn:
        number = mailboxes.save_mailbox(conn, box, utc_now())
        if asked.password is not None:
            secrets.keep(
                conn,
                state.folder,
                Mailbox(**asked.model_dump(exclude={"password", "id"}), id=number).secret,
                asked.password,
                now().isoformat(),
            )
        found = _boxes(state, conn)
    state.sending.wake()
    return found


@router.delete("/mailboxes/{number}")
def delete_mailbox(state: AppDep, number: int) -> list[MailboxResponse]:
    """Take a mailbox away; what it sent stays."""
    with state.database.write() as conn:
        box = mailboxes.get_mailbox(conn, number)
        mailboxes.delete_mailbox(conn, number)
        secrets.keep(conn, state.folder, box.secret, "", "")
        return _boxes(state, conn)


def _box(state: AppState, number: int) -> tuple[Mailbox, str]:
    with state.database.read() as conn:
        box = mailboxes.get_mailbox(conn, number)
        return box, secrets.reveal(conn, state.folder, box.secret)


def _tried(state: AppState, number: int) -> tuple[str, str, str]:
    """(the mailbox's domain, what is wrong with sending, with reading)."""
    box, secret = _box(state, number)
    sending, reading = (
        mailbox_trials.try_sending(state.settings, box, secret),
        mailbox_trials.try_reading(state.settings, box, secret),
    )
    with state.database.write() as conn:
        mailboxes.set_problem(conn, number, sending, "")
    return box.address.partition("@")[2], sending, reading


@router.post("/mailboxes/{number}/try")
async def try_mailbox(state: AppDep, number: int) -> TrialResponse:
    """Sign in to send and to read, and look up what the domain says of its mail; nothing is sent."""
    domain, sending, reading = await asyncio.to_thread(_tried, state, number)
    state.sending.wake()
    return TrialResponse(
        sending=sending, reading=reading, domain=await mailbox_trials.domain_notes(state.settings, domain)
    )


@router.post("/mailboxes/{number}/test-message")
def send_test(state: AppDep, number: int, asked: TestMessageRequest) -> TrialResponse:
    """Send a message to oneself by a mailbox."""
    box, secret = _box(state, number)
    return TrialResponse(
        sending=mailbox_trials.send_test(state.settings, box, secret, asked.to, state.folder), reading=""
    )


def _rules(rules: SendingRules) -> RulesModel:
    hours = rules.hours
    return RulesModel(
        by_hand=rules.by_hand, opens=hours.opens, closes=hours.closes, days=list(hours.days), on_holidays=hours.on_holidays,
        domain_cap=rules.domain_cap, post_address=rules.post_address, paused=rules.paused,
    )  # fmt: skip


@router.get("/sending")
def show_rules(state: AppDep) -> RulesModel:
    """How the agency sends."""
    with state.database.read() as conn:
        return _rules(mailboxes.get_rules(conn))


@router.put("/sending")
def save_rules(state: AppDep, asked: RulesModel) -> RulesModel:
    """Change how the agency sends; what waits in the queue follows."""
    hours = Hours(asked.opens, asked.closes, tuple(sorted(set(asked.days))), asked.on_holidays)
    rules = SendingRules(asked.by_hand, hours, asked.domain_cap, asked.post_address.strip(), asked.paused)
    with state.database.write() as conn:
        mailboxes.put_rules(conn, rules)
    state.sending.wake()
    return _rules(rules)


def _line(item: queue.Shown, boxes: dict[int, str]) -> QueueLine:
    message = item.line.message
    return QueueLine(
        id=message.id, business_id=message.business_id, business=item.line.business, sequence=item.line.sequence,
        address=message.address, person=message.person, subject=message.subject, state=message.state, at=item.at,
        box=boxes.get(item.box, ""), why=item.why,
    )  # fmt: skip


def _shown(state: AppState, states: list[MessageState], first: int) -> QueueResponse:
    with state.database.read() as conn:
        names = {box.id: box.address for box in mailboxes.list_mailboxes(conn)}
        if states == ["waiting"]:
            found, total = queue.waiting_lines(conn, state.settings, state.queue_plan, now(), first, PAGE)
        else:
            found, total = queue.lines_of(conn, states, first, PAGE)
        counts, rules = messages.count_by_state(conn), mailboxes.get_rules(conn)
    lines = [_line(item, names) for item in found]
    approved = sum(count for name, count in counts.items() if name not in {"cancelled", "to approve"})
    left = -1 if rules.by_hand < 0 else max(0, rules.by_hand - approved)
    return QueueResponse(counts=counts, lines=lines, total=total, by_hand_left=left)


@router.get("/queue")
def show_queue(
    state: AppDep, states: Annotated[list[MessageState] | None, Query()] = None, first: int = Query(default=0, ge=0)
) -> QueueResponse:
    """Messages in some states (if none are named: those that wait), a hundred at a time: when each goes, by which mailbox."""
    return _shown(state, states or ["waiting"], first)


@router.get("/messages/{number}")
def show_message(state: AppDep, number: int) -> MessageResponse:
    """One message, with what its sentences rest on and what to think about."""
    with state.database.read() as conn:
        found = messages.get_message(conn, number)
    values = {
        name: getattr(found, name)
        for name in ("id", "business_id", "address", "person", "subject", "text", "state", "problem")
    }
    remarks = check_message(MessageKind(found.kind), found.subject, found.text)
    return MessageResponse(
        **values, because=list(found.because), remarks=remarks, language=found.language, helper=helper_host(state.settings)
    )  # fmt: skip


@router.post("/messages/{number}/reword")
async def reword_message(state: AppDep, number: int, asked: RewordRequest) -> RewordResponse:
    """Let the writing helper word a message again, and see whether it adds to the message and the facts; nothing is saved."""

    def read() -> tuple[Message, Wish]:
        with state.database.read() as conn:
            found = messages.get_message(conn, number)
            return found, wish_for(
                conn, state.settings, found, asked.tone, asked.language or found.language, asked.subject, asked.text
            )

    found, wish = await asyncio.to_thread(read)
    subject, text = await reword(state.settings, wish)
    judged = await asyncio.to_thread(judge, found, wish, subject, text)
    return RewordResponse(
        subject=subject, text=text, holds=judged.holds, subject_check=list(judged.subject.sentences),
        sentences=list(judged.text.sentences), lost=list(judged.text.lost),
        asked=words_asked(wish),
    )  # fmt: skip


@router.put("/messages/{number}")
def change_message(state: AppDep, number: int, asked: MessageRequest) -> MessageResponse:
    """Change the text of a message that has not left. What is written by hand rests on its writer."""
    with state.database.write() as conn:
        found = messages.get_message(conn, number)
        if found.state not in {"to approve", "waiting"}:
            raise Conflict(f"this message is {found.state}: it cannot be changed any more")
        kept = reasons_kept(found, asked.text)
        messages.change_text(conn, number, " ".join(asked.subject.split()), asked.text.strip(), kept)
        if asked.language:
            messages.change_message(conn, number, language=asked.language)
    return show_message(state, number)


@router.post("/messages/approve")
def approve(state: AppDep, asked: ApproveRequest) -> QueueResponse:
    """Let messages leave, as far as your allowance of contacts a day goes."""
    with state.database.write() as conn:
        ids = messages.ids_to_approve(conn) if asked.every else asked.ids
        check_allowance(conn, acting_account(), (Allowance.CONTACTS,), len(ids))
        messages.approve(conn, ids)
    state.sending.wake()
    return _shown(state, ["to approve"], 0)


@router.post("/messages/{number}/cancel")
def cancel(state: AppDep, number: int) -> QueueResponse:
    """Cancel a message that has not left; the step of its sequence is skipped with it."""
    with state.database.write() as conn:
        found = messages.cancel(conn, number, "cancelled by hand")
        if found.enrolment_id:
            enrolment = sequences.get_enrolment(conn, found.enrolment_id)
            if enrolment.state in {"active", "paused"}:
                enrolments.skip_step(conn, enrolment, "the message was cancelled by hand")
    state.sending.wake()
    return _shown(state, [found.state], 0)
