"""Hands text messages to a gateway, at most once each, and takes in what comes back."""

import asyncio
import hashlib
import sqlite3
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path

from openacorn import clock
from openacorn.business.snapshot import Snapshot
from openacorn.business.store import businesses
from openacorn.core.audit.evidence import Failure
from openacorn.core.audit.extract.phones import parse_phone
from openacorn.core.outreach.answers import is_opt_out, is_refusal
from openacorn.core.outreach.incoming import Incoming, IncomingKind
from openacorn.core.outreach.text_gateway import (
    IncomingText,
    inbox_request,
    number_of,
    read_texts,
    refusal_of,
    request_of,
)
from openacorn.core.outreach.working_hours import Hours, next_open
from openacorn.db import secrets as sealed
from openacorn.db.database import Database
from openacorn.errors import NotFound
from openacorn.net.client import Client
from openacorn.net.errors import FetchError
from openacorn.outreach import enrolments
from openacorn.outreach.receiving import follow
from openacorn.outreach.recipients import Recipients
from openacorn.outreach.results import ContactReport, apply_result
from openacorn.outreach.sequencing import Sequencer, may_leave
from openacorn.outreach.store import incoming, mailboxes, messages, sequences, texts
from openacorn.outreach.store.messages import Message
from openacorn.outreach.store.texts import StoredGateway
from openacorn.outreach.text_rules import text_barred
from openacorn.runs.recurring import Recurring
from openacorn.score.scorer import Scorer
from openacorn.settings import Settings

EVERY_S = 30.0
LATER = timedelta(minutes=10)
GIVE_UP_AFTER = timedelta(days=2)
SURELY_NOT_SENT = frozenset({
    Failure.NO_SUCH_NAME, Failure.DNS_UNAVAILABLE, Failure.REFUSED, Failure.UNREACHABLE, Failure.TLS, Failure.PRIVATE,
    Failure.BAD_ADDRESS,
})  # fmt: skip
"""The gateway cannot have heard of the text: it is tried again later."""

PUT_OFF = frozenset({429, 502, 503, 504})


@dataclass(frozen=True, slots=True)
class _Due:
    message: Message
    stored: StoredGateway
    key: str


def _may_go(message: Message, now: datetime, hours: Hours) -> bool:
    """Is it within hours where it is received? Answers go at any hour, as people wait for them."""
    return message.step == messages.AN_ANSWER or next_open(now, message.zone, message.country, hours)[0] <= now


class Texting(Recurring):
    """The sender of text messages of one running application, and the reader of what comes in."""

    def __init__(self, folder: Path, database: Database, snapshot: Snapshot, settings: Settings) -> None:
        self._folder, self._database, self._snapshot, self._settings = folder, database, snapshot, settings
        super().__init__("text messages could not be sent", EVERY_S)

    async def _round(self) -> float:
        await self.step()
        return EVERY_S

    async def step(self) -> int:
        """Hand over what is due, one after the other, then read what came in; return how many texts were handed over."""
        async with self._turn:
            due = await asyncio.to_thread(self._due)
            stored, key = await asyncio.to_thread(self._reader)
            if not due and stored is None:
                return 0
            async with Client(self._settings, allow_private=self._settings.world is not None) as client:
                for item in due:
                    await self._send(client, item)
                if stored is not None:
                    await self._read(client, stored, key)
            return len(due)

    def _due(self) -> list[_Due]:
        now = clock.now()
        with self._database.read() as conn:
            stored, rules = texts.get_gateway(conn), mailboxes.get_rules(conn)
            if stored is None or rules.paused:
                return []
            left = stored.gateway.daily_limit - texts.count_sent(
                conn, (now - timedelta(days=1)).isoformat(timespec="seconds")
            )
            found = (messages.get_message(conn, number) for number in texts.due_texts(conn, clock.utc_now()))
            open_now = [item for item in found if _may_go(item, now, rules.hours)]
            key = sealed.reveal(conn, self._folder, stored.secret) if stored.secret else ""
        return [_Due(item, stored, key) for item in open_now[: max(left, 0)]]

    async def _send(self, client: Client, due: _Due) -> None:
        if not await asyncio.to_thread(self._intend, due):
            return
        gateway, message = due.stored.gateway, due.message
        request = request_of(gateway, due.key, message.address, message.text, f"acorn-{message.id}")
        try:
            answer = await client.fetch(request.url, headers=request.headers, form=request.body)
        except FetchError as error:
            await asyncio.to_thread(self._note_failure, due, error)
            return
        refused = refusal_of(gateway, answer.status, answer.body)
        await asyncio.to_thread(self._note_answer, due, answer.status, refused, number_of(gateway, answer.body))

    def _intend(self, due: _Due) -> bool:
        """The last look, and the intent: stored before the gateway hears of it."""
        with self._database.write() as conn:
            message = messages.get_message(conn, due.message.id)
            if message.state != "waiting":
                return False
            why = may_leave(conn, Recipients(conn, self._settings, ""), message)
            if why := why or text_barred(conn, due.stored.gateway, message.address):
                messages.change_message(conn, message.id, state="cancelled", problem=why)
                self._end(conn, message, why)
                return False
            messages.change_message(conn, message.id, state="sending", tried_at=clock.utc_now())
        return True

    def _end(self, conn: sqlite3.Connection, message: Message, why: str) -> None:
        if message.enrolment_id:
            enrolments.end(conn, sequences.get_enrolment(conn, message.enrolment_id), why)

    def _note_failure(self, due: _Due, error: FetchError) -> None:
        with self._database.write() as conn:
            if error.failure in SURELY_NOT_SENT:
                texts.set_problem(conn, f"the gateway cannot be reached: {error}")
                self._put_off(conn, due.message, str(error))
                return
            why = f"the gateway did not answer ({error}); the text is not sent again by itself"
            messages.change_message(conn, due.message.id, state="perhaps sent", problem=why)
            self._end(conn, due.message, "a text was perhaps sent: look into it and put them in again")

    def _put_off(self, conn: sqlite3.Connection, message: Message, said: str) -> None:
        if clock.now() - datetime.fromisoformat(message.made_at) > GIVE_UP_AFTER:
            messages.change_message(conn, message.id, state="failed", problem=f"given up: {said}")
            self._end(conn, message, f"given up: {said}")
            return
        later = (clock.now() + LATER).isoformat(timespec="seconds")
        messages.change_message(conn, message.id, state="waiting", due_at=later, problem=f"put off: {said}")

    def _note_answer(self, due: _Due, status: int, refused: str, number: str) -> None:
        message = due.message
        with self._database.write() as conn:
            texts.set_problem(conn, "the gateway refuses the key" if status in {401, 403} else "")
            if status in PUT_OFF or status in {401, 403}:
                self._put_off(conn, message, refused)
                return
            if refused:
                messages.change_message(conn, message.id, state="failed", problem=refused)
                self._end(conn, message, f"the text was refused: {refused}")
                return
            at = clock.utc_now()
            messages.change_message(
                conn, message.id, state="sent", sent_at=at, message_id=f"text:{number}" if number else "", problem=""
            )
            report = ContactReport("mailed", message.service, f"text to {message.address}", by=message.by)
            apply_result(conn, message.business_id, report, at, self._settings, Scorer(conn))
            if message.enrolment_id:
                enrolment = sequences.get_enrolment(conn, message.enrolment_id)
                if enrolment.state in {"active", "paused"}:
                    Sequencer(conn, self._snapshot, self._settings, clock.now()).after_message(enrolment)

    async def _read(self, client: Client, stored: StoredGateway, key: str) -> None:
        """Ask the gateway for incoming texts."""
        request = inbox_request(stored.gateway, key, stored.read_to)
        try:
            answer = await client.fetch(request.url, headers=request.headers)
            found = read_texts(stored.gateway, answer.body) if answer.status == 200 else []
        except FetchError:
            return  # the next round asks again
        if found:
            await asyncio.to_thread(self._take_in, found)

    def _reader(self) -> tuple[StoredGateway | None, str]:
        """The gateway that is asked for incoming texts, with its key; None for one that tells of them, or for none."""
        with self._database.read() as conn:
            stored = texts.get_gateway(conn)
            if stored is None or not stored.gateway.inbox:
                return None, ""
            return stored, sealed.reveal(conn, self._folder, stored.secret) if stored.secret else ""

    def _take_in(self, found: list[IncomingText]) -> None:
        for item in found:
            with self._database.write() as conn:
                take_in_text(conn, item, self._settings)
                if item.id:
                    texts.set_read_to(conn, item.id)


def take_in_text(conn: sqlite3.Connection, item: IncomingText, settings: Settings) -> bool:
    """Keep a text that came in and do what follows; False if it was taken in before."""
    number = parse_phone(item.sender, settings.region) or item.sender
    # without a number of the gateway's, the same words of the same sender on one day are one text, told twice
    key = item.id or hashlib.sha256(f"{number}|{item.text}|{clock.utc_now()[:10]}".encode()).hexdigest()[:24]
    kind = IncomingKind.REFUSAL if is_refusal(item.text) else IncomingKind.REPLY
    if is_opt_out("", item.text):
        kind = IncomingKind.OPT_OUT
    what = Incoming(kind, f"text:{key}", (), number, "", "", item.text)
    found = texts.latest_to(conn, number)
    message = messages.get_message(conn, found) if found else None
    at, uid = clock.utc_now(), int(hashlib.sha256(key.encode()).hexdigest()[:12], 16)
    business = message.business_id if message else None
    if incoming.insert_incoming(conn, 0, (0, uid), what, business, found, at) is None:
        return False
    if message is not None and _still_there(conn, message):
        follow(conn, message, what, at, settings)
    return True


def _still_there(conn: sqlite3.Connection, message: Message) -> bool:
    try:
        businesses.get_business(conn, message.business_id)
    except NotFound:
        return False
    return True
