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
from openacorn.core.audit.extract.phone_numbers import parse_phone
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
from openacorn.outreach.sequencing import Sequencer, may_leave
from openacorn.outreach.store import incoming, mailboxes, messages, texts
from openacorn.outreach.store.messages import Message
from openacorn.outreach.store.texts import StoredGateway
from openacorn.outreach.text_rules import text_barred
from openacorn.runs.recurring import Recurring
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
class HandedOver:
    """What a gateway answered. refused: why it did not take the text, "" if it did; number: its own, "" if it gives none."""

    status: int
    refused: str
    number: str


@dataclass(frozen=True, slots=True)
class OpenGateway:
    """The gateway with its key unsealed."""

    stored: StoredGateway
    key: str


def open_gateway(conn: sqlite3.Connection, folder: Path) -> OpenGateway | None:
    """The gateway with its key, None before one is set up. Raises SealBroken."""
    stored = texts.get_gateway(conn)
    return None if stored is None else OpenGateway(stored, sealed.reveal(conn, folder, stored.secret))


async def hand_over(client: Client, opened: OpenGateway, to: str, text: str, reference: str) -> HandedOver:
    """Hand a text to the gateway. Raises FetchError where it does not answer."""
    gateway = opened.stored.gateway
    request = request_of(gateway, opened.key, to, text, reference)
    answer = await client.fetch(request.url, headers=request.headers, form=request.body)
    refused = refusal_of(gateway, answer.status, answer.body)
    return HandedOver(answer.status, refused, number_of(gateway, answer.body))


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
            opened, due = await asyncio.to_thread(self._look)
            reads = opened is not None and bool(opened.stored.gateway.inbox)
            if opened is None or not (due or reads):
                return 0
            async with Client(self._settings, allow_private=self._settings.world is not None) as client:
                for message in due:
                    await self._send(client, opened, message)
                if reads:
                    await self._read(client, opened)
            return len(due)

    def _look(self) -> tuple[OpenGateway | None, list[Message]]:
        """The gateway, and what is to be handed to it now."""
        now = clock.now()
        with self._database.read() as conn:
            opened, rules = open_gateway(conn, self._folder), mailboxes.get_rules(conn)
            if opened is None or rules.paused:
                return opened, []
            since = (now - timedelta(days=1)).isoformat(timespec="seconds")
            left = opened.stored.gateway.daily_limit - texts.count_sent(conn, since)
            found = (messages.get_message(conn, number) for number in texts.due_texts(conn, clock.utc_now()))
            return opened, [item for item in found if _may_go(item, now, rules.hours)][: max(left, 0)]

    async def _send(self, client: Client, opened: OpenGateway, message: Message) -> None:
        if not await asyncio.to_thread(self._intend, opened, message.id):
            return
        try:
            answer = await hand_over(client, opened, message.address, message.text, f"acorn-{message.id}")
        except FetchError as error:
            await asyncio.to_thread(self._note_failure, message, error)
            return
        await asyncio.to_thread(self._note_answer, message, answer)

    def _intend(self, opened: OpenGateway, number: int) -> bool:
        """The last look, and the intent: stored before the gateway hears of it."""
        with self._database.write() as conn:
            message = messages.get_message(conn, number)
            if message.state != "waiting":
                return False
            why = may_leave(conn, Recipients(conn, self._settings, ""), message)
            if why := why or text_barred(conn, opened.stored.gateway, message.address):
                messages.change_message(conn, message.id, state="cancelled", problem=why)
                enrolments.end_for(conn, message, why)
                return False
            messages.change_message(conn, message.id, state="sending", tried_at=clock.utc_now())
        return True

    def _note_failure(self, message: Message, error: FetchError) -> None:
        with self._database.write() as conn:
            if error.failure in SURELY_NOT_SENT:
                texts.set_problem(conn, f"the gateway cannot be reached: {error}")
                self._put_off(conn, message, str(error))
                return
            why = f"the gateway did not answer ({error}); the text is not sent again by itself"
            messages.change_message(conn, message.id, state="perhaps sent", problem=why)
            enrolments.end_for(conn, message, "a text was perhaps sent: look into it and put them in again")

    def _put_off(self, conn: sqlite3.Connection, message: Message, said: str) -> None:
        if clock.now() - datetime.fromisoformat(message.made_at) > GIVE_UP_AFTER:
            messages.change_message(conn, message.id, state="failed", problem=f"given up: {said}")
            enrolments.end_for(conn, message, f"given up: {said}")
            return
        later = (clock.now() + LATER).isoformat(timespec="seconds")
        messages.change_message(conn, message.id, state="waiting", due_at=later, problem=f"put off: {said}")

    def _note_answer(self, message: Message, answer: HandedOver) -> None:
        status, refused, number = answer.status, answer.refused, answer.number
        with self._database.write() as conn:
            texts.set_problem(conn, "the gateway refuses the key" if status in {401, 403} else "")
            if status in PUT_OFF or status in {401, 403}:
                self._put_off(conn, message, refused)
                return
            if refused:
                messages.change_message(conn, message.id, state="failed", problem=refused)
                enrolments.end_for(conn, message, f"the text was refused: {refused}")
                return
            sequencer = Sequencer(conn, self._snapshot, self._settings, clock.now())
            sequencer.note_sent(message, f"text to {message.address}", message_id=f"text:{number}" if number else "")

    async def _read(self, client: Client, opened: OpenGateway) -> None:
        """Ask the gateway for incoming texts."""
        gateway = opened.stored.gateway
        request = inbox_request(gateway, opened.key, opened.stored.read_to)
        try:
            answer = await client.fetch(request.url, headers=request.headers)
            found = read_texts(gateway, answer.body) if answer.status == 200 else []
        except FetchError:
            return  # the next round asks again
        if found:
            await asyncio.to_thread(self._take_in, found)

    def _take_in(self, found: list[IncomingText]) -> None:
        for item in found:
            with self._database.write() as conn:
                take_in_text(conn, item, self._settings)
                if item.id:
                    texts.set_read_to(conn, item.id)


def take_in_text(conn: sqlite3.Connection, item: IncomingText, settings: Settings) -> bool:
    """Keep a text that came in and do what follows; False if it was taken in before."""
    number = parse_phone(item.sender, settings.region) or item.sender
    # without a number of the gateway's, the same words of the same sender on one day are one text, reported twice
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
