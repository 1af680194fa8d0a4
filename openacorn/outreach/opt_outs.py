"""The way out of further messages: an address in each of them that needs no sign-in and cannot be guessed."""

import sqlite3
from functools import lru_cache
from pathlib import Path

from itsdangerous import BadSignature, URLSafeSerializer

from openacorn.business.store import relationships
from openacorn.clock import utc_now
from openacorn.core.match.relationship import Identifier
from openacorn.core.outreach.sequence import When
from openacorn.db.secrets import installation_key
from openacorn.outreach import enrolments
from openacorn.outreach.replies import do_not_contact
from openacorn.outreach.store import messages
from openacorn.outreach.store.messages import Message
from openacorn.score.scorer import REFUSED
from openacorn.settings import Settings


@lru_cache(maxsize=4)
def _signer(folder: Path) -> URLSafeSerializer:
    return URLSafeSerializer(installation_key(folder), salt="opt-out")


def stop_address(folder: Path, settings: Settings, message_id: int) -> str:
    """Where the receiver of a message opts out; "" without an address at which owners reach the installation."""
    return settings.public_url(f"/o/stop/{_signer(folder).dumps(message_id)}")


def message_behind(conn: sqlite3.Connection, folder: Path, token: str) -> Message | None:
    """The message whose receiver asks, None for an address that we did not make."""
    try:
        number = _signer(folder).loads(token)
    except BadSignature:
        return None
    return messages.get_message(conn, int(number))


def opt_out(conn: sqlite3.Connection, message: Message, settings: Settings, how: str) -> None:
    """Note that the receiver of a message wants no more: at once, for the business, on every list and in every sequence."""
    do_not_contact(conn, message.business_id, settings, how)
    identifier_type = "email" if "@" in message.address else "phone"
    person = Identifier(identifier_type, message.address.lower())  # also where it is none of the business's own
    relationships.insert_relationships(conn, REFUSED, [(person, message.address)], utc_now())
    enrolments.end_all_of(conn, message.business_id, [message.address], how, When.REPLIED)
