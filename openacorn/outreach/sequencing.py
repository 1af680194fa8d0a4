"""Moves businesses through their sequences: each step that is due becomes a message in the queue, a task, or a page."""

import sqlite3
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from functools import cached_property
from typing import Any

from openacorn.business.snapshot import Snapshot
from openacorn.business.store import businesses
from openacorn.core.outreach.message_kind import MessageKind
from openacorn.core.outreach.sequence import TASKS, Happened, SequenceStep, StepKind, next_step
from openacorn.core.outreach.text_gateway import TextGateway
from openacorn.core.outreach.working_hours import add_working_days
from openacorn.core.score.reach import ChannelKind
from openacorn.errors import NotFound
from openacorn.outreach import enrolments
from openacorn.outreach.message_facts import Draft, Sender, fill_in
from openacorn.outreach.owner_pages import letterhead
from openacorn.outreach.pitch import Pitch, Pitcher, angles_of
from openacorn.outreach.recipients import Recipients
from openacorn.outreach.results import ContactReport, apply_result
from openacorn.outreach.store import mailboxes, messages, owner_pages, sequences, texts
from openacorn.outreach.store.sequences import Enrolment, StoredSequence
from openacorn.outreach.store.templates import TemplateVersion
from openacorn.outreach.template_library import all_templates, choose
from openacorn.outreach.text_rules import text_barred
from openacorn.outreach.whereabouts import country_of, zone_of_business
from openacorn.score.scorer import REFUSED, Scorer
from openacorn.settings import Settings

AT_ONCE = 50
"""Enrolments moved in one transaction, so that nobody waits long for the writer."""

LOOK_AGAIN = timedelta(hours=1)
"""Rest before a message whose facts are too old is tried again: a new audit takes minutes."""

GIVE_UP_LOOKING = timedelta(days=2)


@dataclass(slots=True)
class Moved:
    """What moving asks for besides what it wrote. audit: businesses whose websites must be looked at again; share: those that are
    to have an owner's page."""

    count: int = 0
    audit: list[int] = field(default_factory=list)
    share: list[int] = field(default_factory=list)


class Sequencer:
    """Moves enrolments at one moment."""

    def __init__(
        self,
        conn: sqlite3.Connection,
        snapshot: Snapshot,
        settings: Settings,
        now: datetime,
    ) -> None:
        self._conn, self._snapshot, self._settings, self._now = conn, snapshot, settings, now
        self._rules = mailboxes.get_rules(conn)
        self._sequences: dict[int, StoredSequence] = {}

    @cached_property
    def _pitcher(self) -> Pitcher:
        return Pitcher(self._conn, self._now, self._settings.region)

    @cached_property
    def _recipients(self) -> Recipients:
        return Recipients(self._conn, self._settings, "")

    @cached_property
    def _templates(self) -> dict[str, TemplateVersion]:
        return all_templates(self._conn)

    @cached_property
    def _left_by_hand(self) -> int:
        counts = messages.count_by_state(self._conn)
        return self._rules.by_hand - sum(count for state, count in counts.items() if state != "cancelled")

    @cached_property
    def _gateway(self) -> TextGateway | None:
        stored = texts.get_gateway(self._conn)
        return stored.gateway if stored else None

    def _sequence(self, number: int) -> StoredSequence:
        if number not in self._sequences:
            self._sequences[number] = sequences.get_sequence(self._conn, number)
        return self._sequences[number]

    @property
    def _at(self) -> str:
        return self._now.isoformat(timespec="seconds")

    def move(self, most: int = AT_ONCE) -> Moved:
        """Do what is due by now, for at most so many enrolments."""
        moved = Moved()
        for enrolment in sequences.list_due(self._conn, self._at, most):
            moved.count += 1
            self._move(enrolment, moved)
        return moved

    def end_over(self) -> None:
        """End the sequences of those who became a client, refused, or was won or lost elsewhere: on a call, on the board."""
        for enrolment in sequences.list_over(self._conn):
            row = businesses.get_business(self._conn, enrolment.business_id)
            enrolments.end(self._conn, enrolment, self._recipients.not_any_more(row))

    def _move(self, enrolment: Enrolment, moved: Moved) -> None:
        row = businesses.get_business(self._conn, enrolment.business_id)
        if why := self._recipients.stopped(row, enrolment.address):
            enrolments.end(self._conn, enrolment, why)
            return
        steps = self._sequence(enrolment.sequence_id).sequence.steps
        index = next_step(steps, enrolment.step, self._happened(enrolment.business_id))
        if index is None:
            enrolments.end(self._conn, enrolment, "all steps are done", finished=True)
            return
        step = steps[index]
        if step.kind is StepKind.EMAIL or (step.kind is StepKind.TEXT and self._gateway is not None):
            self._write(enrolment, row, index, step, moved)
            return
        if step.kind in TASKS:
            enrolments.add_task(self._conn, enrolment, step)
        elif step.kind is StepKind.PAGE:
            moved.share.append(enrolment.business_id)
        self._go_on(enrolment, row, index)

    def _go_on(self, enrolment: Enrolment, row: dict[str, Any], index: int, reason: str = "") -> None:
        """Wait for the step after `index`, or end."""
        steps = self._sequence(enrolment.sequence_id).sequence.steps
        following = next_step(steps, index, self._happened(enrolment.business_id))
        if following is None:
            sequences.change_enrolment(self._conn, enrolment.id, step=index)
            enrolments.end(self._conn, enrolment, reason or "all steps are done", finished=True)
            return
        at = add_working_days(
            self._now,
            steps[following].after_days,
            zone_of_business(row, self._settings),
            country_of(row, self._settings.region),
            self._rules.hours,
        )
        sequences.change_enrolment(
            self._conn, enrolment.id, step=index, next_at=at.isoformat(timespec="seconds"), reason=reason
        )

    def note_sent(self, message: messages.Message, said: str, **more: str) -> None:
        """Note that a message has left, and go on behind it. said: of it, for the history; more: columns of it to set as well."""
        messages.change_message(self._conn, message.id, state="sent", sent_at=self._at, problem="", **more)
        report = ContactReport("mailed", message.service, said, by=message.by, channel=message.kind)
        apply_result(self._conn, message.business_id, report, self._at, self._settings, Scorer(self._conn))
        if message.enrolment_id:
            enrolment = sequences.get_enrolment(self._conn, message.enrolment_id)
            if enrolment.state in {"active", "paused"}:
                self._go_on(enrolment, businesses.get_business(self._conn, enrolment.business_id), enrolment.step)

    def _happened(self, business_id: int) -> Happened:
        page = owner_pages.list_latest(self._conn, business_id)
        return Happened(page_opened=page is not None and page.views > 0)

    def _write(self, enrolment: Enrolment, row: dict[str, Any], index: int, step: SequenceStep, moved: Moved) -> None:
        holding = angles_of(self._conn, self._snapshot, [row["id"]], self._now).get(row["id"], [])
        pitch = self._pitcher.pitch(row, holding, enrolment.service)
        if pitch.stale and pitch.row["website"] and not self._looked_long_enough(enrolment):
            moved.audit.append(row["id"])
            later = (self._now + LOOK_AGAIN).isoformat(timespec="seconds")
            sequences.change_enrolment(
                self._conn, enrolment.id, next_at=later, reason="its website is being looked at again first"
            )
            return
        address = enrolment.address if step.kind is StepKind.EMAIL else self._mobile(pitch, enrolment)
        if not address:  # no text may be sent to it: somebody decides what to do
            enrolments.add_task(self._conn, enrolment, step)
            self._go_on(enrolment, row, index)
            return
        draft, version = self.draft(pitch, step, enrolment, row)
        if draft.written is None or version is None:
            self._go_on(enrolment, row, index, f"step {index + 1} was left out: {draft.left_out}")
            return
        self._queue(enrolment, row, index, draft, version, address)

    def _mobile(self, pitch: Pitch, enrolment: Enrolment) -> str:
        """The mobile number likeliest to be read that a text may go to, "" if there is none."""
        quiet = self._sequence(enrolment.sequence_id).sequence.quiet_days
        since = (self._now - timedelta(days=max(quiet, 1))).isoformat(timespec="seconds")
        found = sorted((item for item in pitch.channels if item.kind is ChannelKind.MOBILE), key=lambda item: -item.r)
        for number in (item.value for item in found):
            told = texts.texted_for_another(self._conn, number, enrolment.business_id, since)
            if self._gateway and not told and not text_barred(self._conn, self._gateway, number):
                return number
        return ""

    def _looked_long_enough(self, enrolment: Enrolment) -> bool:
        waited = self._now - datetime.fromisoformat(enrolment.started_at)
        return enrolment.reason.startswith("its website") and waited > GIVE_UP_LOOKING

    def draft(
        self, pitch: Pitch, step: SequenceStep, enrolment: Enrolment, row: dict[str, Any]
    ) -> tuple[Draft, TemplateVersion | None]:
        """The step's text for a business: of several templates the one whose turn it is, else the next that can be filled in."""
        token = owner_pages.open_tokens(self._conn, [row["id"]]).get(row["id"])
        sender = Sender(
            letterhead(self._conn, self._settings),
            enrolment.by,
            self._settings.public_url(f"/o/{token}") if token else "",
        )
        service, reason = (
            enrolment.service or (pitch.service.id if pitch.service else ""),
            "there is no template for this offer",
        )
        place = self._place(enrolment, step)
        for version in choose(self._templates, step.templates, MessageKind(step.kind), service, enrolment.id, place):
            filled = fill_in(version.template, pitch, sender, enrolment.address)
            if filled.written is not None:
                return filled, version
            reason = f"{version.template.name}: {filled.left_out}"
        return Draft(left_out=reason), None

    def _place(self, enrolment: Enrolment, step: SequenceStep) -> int:
        """Which of a service's texts a step is for: the first, the second …; the last one (-1) at the end of three or more."""
        steps = [item for item in self._sequence(enrolment.sequence_id).sequence.steps if item.kind is step.kind]
        place = next(index for index, item in enumerate(steps) if item is step)
        return -1 if place + 1 == len(steps) > 2 else place

    def _queue(
        self,
        enrolment: Enrolment,
        row: dict[str, Any],
        index: int,
        draft: Draft,
        version: TemplateVersion,
        address: str,
    ) -> None:
        assert draft.written is not None
        template = version.template
        thread = messages.thread_of(self._conn, enrolment.id) if template.kind is MessageKind.EMAIL else []
        subject, answers = draft.subject, ""
        if thread and subject.casefold() == thread[0][2].casefold():
            subject, answers = f"Re: {subject}", thread[-1][0]
        by_hand = self._rules.by_hand < 0 or self._left_by_hand > 0
        self._left_by_hand -= 1
        messages.insert_message(self._conn, {
            "business_id": row["id"], "enrolment_id": enrolment.id, "step": index, "kind": template.kind, "template": template.id,
            "template_version": version.version, "variant": template.variant, "service": enrolment.service,
            "address": address, "person": enrolment.person, "subject": subject, "text": draft.written.text,
            "because": draft.written.sentences, "state": "to approve" if by_hand else "waiting",
            "mailbox_id": thread[-1][1] if thread else 0, "in_reply_to": answers,
            "zone": zone_of_business(row, self._settings), "country": country_of(row, self._settings.region),
            "due_at": self._at, "made_at": self._at, "by": enrolment.by, "language": draft.language,
        })  # fmt: skip
        sequences.change_enrolment(self._conn, enrolment.id, step=index, next_at="", reason="")


def may_leave(conn: sqlite3.Connection, recipients: Recipients, message: messages.Message) -> str:
    """Why a message of the queue must not leave after all, "" if it may: the last look before it goes."""
    try:
        row = businesses.get_business(conn, message.business_id)
    except NotFound:
        return "the business is gone"
    if message.step == messages.AN_ANSWER:  # the person we are in conversation with waits for it
        return "they asked not to be contacted" if row["relationship"] == REFUSED else ""
    if message.enrolment_id:
        enrolment = sequences.get_enrolment(conn, message.enrolment_id)
        if enrolment.state != "active" or enrolment.business_id != message.business_id:
            return enrolment.reason or f"its sequence is {enrolment.state}"
    return recipients.stopped(row, message.address)
