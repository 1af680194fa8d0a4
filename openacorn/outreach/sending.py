"""Sends what waits in the queue: in measured doses, by several mailboxes, and each message at most once."""

import asyncio
import logging
import secrets
import sqlite3
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path

from openacorn import clock
from openacorn.business.snapshot import Snapshot
from openacorn.business.store import businesses, verifications
from openacorn.core.audit.verification import Stage, VerificationResult, Verified
from openacorn.core.languages.catalogue import Translator
from openacorn.core.outreach.compose import Envelope, RecipientError, compose, footer
from openacorn.core.outreach.incoming import nobody_there
from openacorn.core.outreach.sequence import When
from openacorn.core.report.claims import too_old
from openacorn.db import secrets as sealed
from openacorn.db.database import Database
from openacorn.net.mail_server import MailServerError
from openacorn.net.submission import Acceptance, Submitted, submit
from openacorn.outreach import enrolments
from openacorn.outreach.connections import submission
from openacorn.outreach.opt_outs import stop_address
from openacorn.outreach.owner_pages import letterhead
from openacorn.outreach.planning import planned
from openacorn.outreach.recipients import Recipients
from openacorn.outreach.sequencing import Moved, Sequencer, may_leave
from openacorn.outreach.store import mailboxes, messages, sequences
from openacorn.outreach.store.mailboxes import Mailbox
from openacorn.outreach.store.messages import Message
from openacorn.runs.recurring import Recurring
from openacorn.score.scorer import Scorer
from openacorn.settings import Settings

log = logging.getLogger(__name__)

IDLE_S = 20.0
"""Longest rest between two looks at what is due."""

LATER = timedelta(minutes=20)
"""Rest before a message that a server put off is tried again: greylisting asks for some minutes (RFC 6647, 2.2)."""

BOX_LATER = timedelta(minutes=10)
"""Rest before a mailbox whose server could not be reached is tried again."""

GIVE_UP_AFTER = timedelta(days=4)
"""A message that is put off for longer is given up (RFC 5321, 4.5.4.1 asks for 4–5 days)."""


@dataclass(frozen=True, slots=True)
class Due:
    """A message to send now, with the mailbox it goes by."""

    message: Message
    box: Mailbox


class Sending(Recurring):
    """The sender of one running application. want: begins runs that audit websites again or create owners' pages."""

    def __init__(
        self, folder: Path, database: Database, snapshot: Snapshot, settings: Settings,
        want: Callable[[Moved], None],
    ) -> None:  # fmt: skip
        self._folder, self._database, self._snapshot, self._settings = folder, database, snapshot, settings
        self._want = want
        super().__init__("messages could not be sent", IDLE_S)
        self.tried = 0
        """Messages handed to a server since the start."""

    async def _first(self) -> None:
        await asyncio.to_thread(self._note_left_behind)

    async def _round(self) -> float:
        return await self.step()

    async def step(self) -> float:
        """Do what is due now; return the seconds until something is due again, at most IDLE_S."""
        async with self._turn:
            await asyncio.to_thread(self._move)
            due, rest = await asyncio.to_thread(self._due)
            if not due:
                return rest
            await asyncio.gather(*(asyncio.to_thread(self._send, item) for item in due))
            return (await asyncio.to_thread(self._due))[1]

    def _note_left_behind(self) -> None:
        with self._database.write() as conn:
            found = messages.note_left_behind(conn)
            for number in found:
                message = messages.get_message(conn, number)
                enrolments.end_for(conn, message, "a message was perhaps sent: look into it and put them in again")
        if found:
            log.warning("%d messages were being sent when the application ended; they are perhaps sent", len(found))

    def _sequencer(self, conn: sqlite3.Connection, now: datetime) -> Sequencer:
        return Sequencer(conn, self._snapshot, self._settings, now)

    def _move(self) -> None:
        """End what is over, and move everybody whose next step is due."""
        with self._database.read() as conn:
            over = bool(sequences.list_over(conn))
        if over:
            with self._database.write() as conn:
                self._sequencer(conn, clock.now()).end_over()
        while True:
            with self._database.read() as conn:
                if not sequences.list_due(conn, clock.utc_now(), 1):
                    return
            with self._database.write() as conn:
                moved = self._sequencer(conn, clock.now()).move()
            if moved.audit or moved.share:
                self._want(moved)
            if moved.count == 0:
                return

    def _due(self) -> tuple[list[Due], float]:
        """(what is to leave now, for each mailbox at most one message; seconds until something is due, at most IDLE_S)."""
        now = clock.now()
        with self._database.read() as conn:
            plan = planned(conn, self._settings, now, now + timedelta(seconds=IDLE_S))
            boxes = {box.id: box for box in mailboxes.list_mailboxes(conn)}
            first: dict[int, int] = {}
            for item in plan:
                if item.at <= now:
                    first.setdefault(item.box, item.message)
            due = [Due(messages.get_message(conn, number), boxes[box]) for box, number in first.items()]
            step = sequences.next_due(conn)
        moments = [item.at for item in plan[:1]] + ([datetime.fromisoformat(step)] if step else [])
        return due, min([IDLE_S, *((moment - now).total_seconds() for moment in moments)])

    def _send(self, due: Due) -> None:
        """Send one message, or note why not."""
        try:
            with self._database.read() as conn:
                body, message_id = self._composed(conn, due)
                secret = sealed.reveal(conn, self._folder, due.box.secret)
        except (RecipientError, sealed.SealBroken) as error:
            self._problem(due.box, str(error)) if isinstance(error, sealed.SealBroken) else self._fail(due, str(error))
            return
        box = due.box
        try:
            with submission(self._settings, box, secret) as server:
                outcome = submit(server, box.address, due.message.address, body, lambda: self._intend(due, message_id))
        except MailServerError as error:
            self._problem(box, str(error), lasting=error.sign_in)
            return
        self.tried += 1
        self._note(due, outcome)

    def _composed(self, conn: sqlite3.Connection, due: Due) -> tuple[bytes, str]:
        message, box = due.message, due.box
        head, rules = letterhead(conn, self._settings), mailboxes.get_rules(conn)
        stop = stop_address(self._folder, self._settings, message.id)
        message_id = f"<{secrets.token_hex(12)}.{message.id}@{box.address.partition('@')[2]}>"
        thread = [name for name, _, _ in messages.thread_of(conn, message.enrolment_id)] if message.in_reply_to else []
        envelope = Envelope(
            box.address, box.name or message.by or head.person or head.name, message.address, message.person, message_id,
            clock.now(),
            tuple(thread or filter(None, [message.in_reply_to])), stop, one_click=stop.startswith("https://"),
        )  # fmt: skip
        end = footer(head.name, message.by or head.person, rules.post_address, stop, Translator(message.language))
        return compose(envelope, message.subject, f"{message.text}\n\n{end}"), message_id

    def _intend(self, due: Due, message_id: str) -> bool:
        """The last look, and the intent: stored before any of the message leaves."""
        with self._database.write() as conn:
            message = messages.get_message(conn, due.message.id)
            if message.state != "waiting":
                return False
            if message.enrolment_id and sequences.get_enrolment(conn, message.enrolment_id).state == "paused":
                return False
            if message.enrolment_id and too_old(message.made_at, clock.now()):
                enrolments.write_again(conn, message)
                return False
            if why := may_leave(conn, Recipients(conn, self._settings, ""), message):
                messages.change_message(conn, message.id, state="cancelled", problem=why)
                enrolments.end_for(conn, message, why)
                return False
            messages.change_message(
                conn,
                message.id,
                state="sending",
                message_id=message_id,
                mailbox_id=due.box.id,
                tried_at=clock.utc_now(),
            )
        return True

    def _note(self, due: Due, outcome: Submitted) -> None:
        with self._database.write() as conn:
            if outcome.acceptance is Acceptance.ACCEPTED:
                message = due.message
                self._sequencer(conn, clock.now()).note_sent(message, f"{message.subject} ({message.address})")
            elif outcome.acceptance is Acceptance.PERHAPS:
                why = (
                    f"the connection broke before the server answered ({outcome.said}); it is not sent again by itself"
                )
                messages.change_message(conn, due.message.id, state="perhaps sent", problem=why)
                enrolments.end_for(conn, due.message, "a message was perhaps sent: look into it and put them in again")
            elif outcome.acceptance is Acceptance.REFUSED:
                self._note_refused(conn, due, outcome.said)
            elif outcome.acceptance is Acceptance.LATER:
                self._put_off(conn, due, outcome.said)
            if due.box.problem:
                mailboxes.set_problem(conn, due.box.id, "", "")

    def _note_refused(self, conn: sqlite3.Connection, due: Due, said: str) -> None:
        """The server will not have it: for a mailbox that is not there, the address is dead."""
        messages.change_message(conn, due.message.id, state="bounced", problem=said)
        if nobody_there(said):
            note_dead(conn, due.message.business_id, due.message.address, said)
        enrolments.end_for(conn, due.message, f"{due.message.address} was refused: {said}", When.BOUNCED)

    def _put_off(self, conn: sqlite3.Connection, due: Due, said: str) -> None:
        if clock.now() - datetime.fromisoformat(due.message.due_at) > GIVE_UP_AFTER:
            self._fail_in(conn, due, f"given up after {GIVE_UP_AFTER.days} days: {said}")
            return
        later = (clock.now() + LATER).isoformat(timespec="seconds")
        messages.change_message(
            conn, due.message.id, state="waiting", message_id="", due_at=later, problem=f"put off: {said}"
        )

    def _fail_in(self, conn: sqlite3.Connection, due: Due, why: str) -> None:
        messages.change_message(conn, due.message.id, state="failed", problem=why)
        enrolments.end_for(conn, due.message, why)

    def _fail(self, due: Due, why: str) -> None:
        with self._database.write() as conn:
            self._fail_in(conn, due, why)

    def _problem(self, box: Mailbox, why: str, *, lasting: bool = True) -> None:
        """Note that a mailbox cannot send; it is tried again later unless somebody must change something first."""
        later = "" if lasting else (clock.now() + BOX_LATER).isoformat(timespec="seconds")
        with self._database.write() as conn:
            mailboxes.set_problem(conn, box.id, why, later)


def note_dead(conn: sqlite3.Connection, business_id: int, address: str, said: str) -> None:
    """Remember that nobody is at an address."""
    verdict = Verified(address, VerificationResult.DEAD, Stage.MAILBOX, said[:300] or "it bounced", clock.utc_now())
    verifications.upsert_verifications(conn, [verdict])
    for row in businesses.get_businesses(conn, [business_id]):
        Scorer(conn).score([row["id"]])
