"""What owners send back from their page: messages, and the wish not to be contacted again."""

import logging
import re
import secrets
import sqlite3
import threading
from collections import defaultdict, deque
from datetime import timedelta

from itsdangerous import BadSignature, TimestampSigner

from openacorn.business.store import pipeline
from openacorn.clock import now, today, utc_now
from openacorn.net.mail import send_notice
from openacorn.outreach import results
from openacorn.outreach.results import ContactReport
from openacorn.outreach.store import owner_pages
from openacorn.outreach.store.owner_pages import OwnerPage
from openacorn.score import win_model
from openacorn.score.scorer import Scorer
from openacorn.settings import Settings

log = logging.getLogger(__name__)
FASTEST_S, LONGEST_S = 3.0, 86_400.0
"""Nobody fills in the form within so few seconds of opening the page; a stamp older than a day was kept for replay."""

MANY_LINKS = 3
SENDER_REPLIES, WINDOW_S = 20, 3600.0
"""So many replies a sender an hour; several owners may sit behind one address."""

UNKNOWN_REPLIES = 300
"""So many an hour of senders that are not known, all together."""

PAGE_REPLIES, PAGE_SUSPECTS = 5, 20
"""So many replies a page an hour are more than anybody writes; the rest is kept as doubtful, the latest of it."""

SAID = {
    "sent": "Thank you: your message has arrived. We will get back to you.",
    "stopped": "We have noted it: we will not contact you again.",
}


class _Stamps(TimestampSigner):
    """Signs with the product's own time, like everything that the store holds."""

    def get_timestamp(self) -> int:
        return int(now().timestamp())


_SIGNER = _Stamps(secrets.token_bytes(32), salt="opened")
"""Stamps hold for this process's life: a page left open over a restart sends its message all the same, marked as doubtful."""


class Senders:
    """How many replies each sender has sent within an hour."""

    def __init__(self) -> None:
        self._sent: dict[str, deque[float]] = defaultdict(deque)
        self._lock = threading.Lock()

    def allow(self, address: str, moment: float) -> bool:
        """May it send another one? address: "" if it is not known; moment: seconds of a clock that does not go back."""
        with self._lock:
            for other in [other for other, times in self._sent.items() if moment - times[-1] > WINDOW_S]:
                del self._sent[other]
            sent = self._sent[address]
            while sent and moment - sent[0] > WINDOW_S:
                sent.popleft()
            if len(sent) >= (SENDER_REPLIES if address else UNKNOWN_REPLIES):
                return False
            sent.append(moment)
            return True


def stamp(token: str) -> str:
    """What the form carries to say when it was opened: now."""
    return _SIGNER.sign(token).decode()


def suspicion(token: str, trap: str, opened: str, text: str, moment: float) -> str:
    """Why a message may be a machine's, "" if nothing speaks for it. trap: a field that no person sees."""
    if trap:
        return "it filled in a field that nobody sees"
    try:
        signed, at = _SIGNER.unsign(opened, return_timestamp=True)
    except BadSignature:
        signed, at = b"", now()
    if signed != token.encode():
        return "it did not come from the page's own form"
    if moment - at.timestamp() < FASTEST_S:
        return f"it was sent within {FASTEST_S:.0f} seconds of opening the page"
    if moment - at.timestamp() > LONGEST_S:
        return "its form was opened more than a day ago"
    if len(re.findall(r"https?://", text)) >= MANY_LINKS:
        return "it is full of links"
    return ""


def receive_message(
    conn: sqlite3.Connection, page: OwnerPage, name: str, reach: str, text: str, suspect: str
) -> tuple[bool, str]:
    """Keep a message; one from a person is added to the business's history and is due today.

    What is doubtful is kept too: an owner whose browser fills in every field must not be lost, and a flood of a page must
    not shut its owner out. Returns (was it kept?, why it is doubtful).
    """
    at = utc_now()
    since = (now() - timedelta(seconds=WINDOW_S)).isoformat(timespec="seconds")
    if not suspect and owner_pages.count_replies(conn, page.id, since, suspect=False) >= PAGE_REPLIES:
        suspect = f"more than {PAGE_REPLIES} messages came from this page within an hour"
    if suspect and owner_pages.count_replies(conn, page.id, since, suspect=True) >= PAGE_SUSPECTS:
        if suspect.startswith("more than"):
            return False, suspect
        owner_pages.drop_oldest_suspect(conn, page.id)
    owner_pages.add_reply(conn, page, at, name, reach, text, suspect)
    if not suspect:
        pipeline.add_activity(conn, page.business_id, name or "the owner", f"wrote: {text} ({reach})", at, "reply")
        pipeline.update_all_lists(conn, page.business_id, "", today())
    return True, suspect


def notify_agency(settings: Settings, to: str, business: str, name: str, reach: str, text: str) -> None:
    """Send the agency word of a message, if it has a mail server and an address; what goes wrong is logged, the message is kept."""
    if not (settings.mail.host and to):
        return
    words = (
        f"{name or 'The owner'} ({reach}) wrote on the page of {business}:\n\n{text}\n\nIt stands among the replies."
    )
    fault = send_notice(settings.mail, to, f"{business}: a reply", words)
    if fault:
        log.warning("the notice of a reply could not be sent: %s", fault)


def do_not_contact(conn: sqlite3.Connection, business_id: int, settings: Settings, how: str) -> None:
    """Note that the owner asked not to be contacted again. It is the owner's act, so the agency's undo does not know it."""
    report = ContactReport("refused", note=how, by="the owner")
    results.apply_result(conn, business_id, report, utc_now(), settings, Scorer(conn))
    win_model.learn(conn)
