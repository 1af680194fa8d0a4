"""Reads what arrives in the mailboxes and does what follows: a reply ends a sequence, a bounce marks an address as dead."""

import asyncio
import sqlite3
from datetime import date, timedelta
from pathlib import Path

from openacorn import clock
from openacorn.business.store import businesses, pipeline
from openacorn.core.audit.freemail import is_freemail
from openacorn.core.outreach.incoming import Incoming, IncomingKind, nobody_there, read_incoming
from openacorn.core.outreach.sequence import When
from openacorn.db import secrets as sealed
from openacorn.db.database import Database
from openacorn.net.inbox import look_in, read_after
from openacorn.net.mail_server import MailServerError
from openacorn.outreach import enrolments, results
from openacorn.outreach.connections import inbox
from openacorn.outreach.opt_outs import opt_out
from openacorn.outreach.results import ContactReport
from openacorn.outreach.sending import note_dead
from openacorn.outreach.store import incoming, mailboxes, messages
from openacorn.outreach.store.mailboxes import Mailbox
from openacorn.outreach.store.messages import Message
from openacorn.runs.recurring import Recurring
from openacorn.score import win_model
from openacorn.score.scorer import Scorer
from openacorn.settings import Settings

EVERY_S = 60.0
"""Rest between two looks into the mailboxes."""

A_DAY = timedelta(days=1)
"""A mail server may be in another zone, so that its day is another."""

RESULT = {IncomingKind.REPLY: "talking", IncomingKind.REFUSAL: "not interested"}


def find_message(conn: sqlite3.Connection, what: Incoming) -> Message | None:
    """The message that something answers: by its Message-ID, else the last one to that address, or to that firm's domain."""
    if found := messages.find_by_message_id(conn, what.answers):
        return found
    addresses = [item.address for item in what.undelivered] or [what.address]
    for address in addresses:
        if found := messages.latest_to(conn, address):
            return found
    domain = what.address.partition("@")[2]
    if what.undelivered or not domain or is_freemail(domain):
        return None
    return messages.latest_to_domain(conn, domain)


def take_in(
    conn: sqlite3.Connection,
    box: Mailbox,
    uid: tuple[int, int],
    what: Incoming,
    settings: Settings,
    *,
    answers_only: bool = False,
) -> bool:
    """Keep what arrived and do what follows from it; False if it was taken in before, or comes from no business of ours."""
    if what.address == box.address.lower() or incoming.was_seen(conn, box.id, what.message_id):
        return False
    # of what lay there before, an address alone says nothing: it can be older than what we sent
    message = messages.find_by_message_id(conn, what.answers) if answers_only else find_message(conn, what)
    machine = what.kind in {IncomingKind.BOUNCE, IncomingKind.DELAY, IncomingKind.AUTOMATIC}
    if message is None and (answers_only or machine):
        return False
    business = message.business_id if message else None
    at = clock.utc_now()
    if incoming.insert_incoming(conn, box.id, uid, what, business, message.id if message else 0, at) is None:
        return False
    if message is not None:
        follow(conn, message, what, at, settings)
    return True


def follow(conn: sqlite3.Connection, message: Message, what: Incoming, at: str, settings: Settings) -> None:
    """Do what follows from something that arrived about a message of ours."""
    business, who = message.business_id, what.name or what.address
    if what.kind is IncomingKind.BOUNCE:
        said = next((f"{item.status} {item.said}".strip() for item in what.undelivered), "")
        if message.state in {"sent", "perhaps sent"}:
            messages.change_message(conn, message.id, state="bounced", problem=said or "it came back")
        if nobody_there(said or what.text):
            note_dead(conn, business, message.address, said)
        pipeline.add_activity(
            conn, business, "", f"a message to {message.address} came back: {said}".rstrip(": "), at, "note"
        )
        enrolments.end_all_of(conn, business, [message.address], f"{message.address} bounced", When.BOUNCED)
    elif what.kind is IncomingKind.OPT_OUT:
        pipeline.add_activity(conn, business, who, f"wrote: {_short(what)}", at, "reply")
        opt_out(conn, message, settings, f"asked for it by {'text' if message.kind == 'text' else 'e-mail'}")
    elif what.kind in RESULT:
        pipeline.add_activity(conn, business, who, f"wrote: {_short(what)}", at, "reply")
        enrolments.end_all_of(conn, business, [message.address, what.address], "they replied", When.REPLIED)
        if businesses.get_business(conn, business)["relationship"] not in {"client", "refused"}:
            report = ContactReport(
                RESULT[what.kind],
                message.service,
                f"answered {message.subject!r}" if message.subject else "answered the text",
            )
            results.apply_result(conn, business, report, at, settings, Scorer(conn))
            win_model.learn(conn)
        pipeline.update_all_lists(conn, business, "", clock.today())


def _short(what: Incoming, most: int = 400) -> str:
    text = " ".join(what.text.split()) or what.subject
    return text if len(text) <= most else f"{text[: most - 2]} …"


class Receiving(Recurring):
    """Looks into the mailboxes now and then."""

    def __init__(self, folder: Path, database: Database, settings: Settings) -> None:
        self._folder, self._database, self._settings = folder, database, settings
        super().__init__("mailboxes could not be read", EVERY_S)

    async def _round(self) -> float:
        await self.step()
        return EVERY_S

    async def step(self) -> int:
        """Look into every mailbox once; return how many messages were taken in."""
        async with self._turn:
            boxes = await asyncio.to_thread(self._boxes)
            return sum(await asyncio.gather(*(asyncio.to_thread(self._look, box) for box in boxes)))

    def _boxes(self) -> list[Mailbox]:
        with self._database.read() as conn:
            return [box for box in mailboxes.list_mailboxes(conn) if box.imap_host]

    def _look(self, box: Mailbox) -> int:
        try:
            return self._read(box)
        except (MailServerError, sealed.SealBroken) as error:
            with self._database.write() as conn:
                mailboxes.set_reading_problem(conn, box.id, str(error))
            return 0

    def _read(self, box: Mailbox) -> int:
        with self._database.read() as conn:
            secret = sealed.reveal(conn, self._folder, box.secret)
            ours = [item.address for item in mailboxes.list_mailboxes(conn)]
        taken = 0
        with inbox(self._settings, box, secret) as server:
            found = look_in(server)
            # an inbox seen for the first time, or numbered again: of what lies there only answers to us count
            known = box.uid_validity == found.uid_validity
            last = box.last_uid if known else 0
            since = None if known else date.fromisoformat(box.added_at[:10]) - A_DAY
            for uid, raw in read_after(server, last, since):
                what = read_incoming(raw, ours)
                with self._database.write() as conn:
                    taken += take_in(conn, box, (found.uid_validity, uid), what, self._settings, answers_only=not known)
                    mailboxes.set_read_to(conn, box.id, found.uid_validity if known else 0, uid, clock.utc_now())
                last = uid
        with self._database.write() as conn:
            mailboxes.set_read_to(
                conn, box.id, found.uid_validity, last if known else max(last, found.uid_next - 1), clock.utc_now()
            )
        return taken
