"""Who is put into a sequence and who is left out; and how a way through one ends."""

import sqlite3
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from openacorn.business.store import businesses, pipeline, shortlists
from openacorn.clock import today, utc_now
from openacorn.core.outreach.sequence import SequenceStep, StepKind, When, ending_steps
from openacorn.errors import NameTaken
from openacorn.outreach.pitch import Pitcher
from openacorn.outreach.recipients import Recipients, name_of
from openacorn.outreach.store import messages, sequences
from openacorn.outreach.store.messages import Message
from openacorn.outreach.store.sequences import Enrolment
from openacorn.settings import Settings


@dataclass(frozen=True, slots=True)
class SequenceCandidate:
    """A business that might be put into a sequence. reason: why it is left out, "" if it is not."""

    business_id: int
    business: str
    town: str
    address: str = ""
    person: str = ""
    service: str = ""
    reason: str = ""


def _running(conn: sqlite3.Connection, row: dict[str, Any], address: str) -> str:
    """The sequence that a business or its person is in already, in words."""
    for found in sequences.running_of(conn, row["id"], [address]):
        name = sequences.get_sequence(conn, found.sequence_id).sequence.name
        return (
            f"in the sequence {name!r} already"
            if found.business_id == row["id"]
            else f"{address} is in the sequence {name!r} already"
        )
    return ""


def candidates(
    conn: sqlite3.Connection, pitcher: Pitcher, settings: Settings, sequence_id: int, ids: Iterable[int]
) -> list[SequenceCandidate]:
    """Decide for each business whether it can be put into a sequence, the most valuable first. Raises NotFound."""
    sequence = sequences.get_sequence(conn, sequence_id).sequence
    since = (pitcher.now - timedelta(days=sequence.quiet_days)).isoformat(timespec="seconds")
    recipients = Recipients(conn, settings, since)
    writes = any(step.kind is StepKind.EMAIL for step in sequence.steps)
    found, taken = [], set[str]()
    for row in businesses.get_businesses(conn, list(ids)):
        pitch = pitcher.pitch(row, ())
        addressed = recipients.address_of(row["id"], pitch.people)
        reason = recipients.barred(row) or _running(conn, row, addressed.email)
        if not reason and writes:
            reason = addressed.lacking or recipients.address_barred(addressed.email)
        if not reason and addressed.email and addressed.email.lower() in taken:
            reason = f"{addressed.email} is written to for another business"
        if not reason:
            taken.add(addressed.email.lower())
        person = " ".join(name_of(pitch.people, addressed.email)).strip()
        service = pitch.service.id if pitch.service else ""
        found.append(SequenceCandidate(row["id"], row["name"], row["town"], addressed.email, person, service, reason))
    return found


def enrol(conn: sqlite3.Connection, sequence_id: int, chosen: Sequence[SequenceCandidate], by: str) -> list[int]:
    """Put candidates into a sequence; return the enrolments. Those that somebody else put into one meanwhile are passed over."""
    sequence, at = sequences.get_sequence(conn, sequence_id).sequence, utc_now()
    made = []
    for item in chosen:
        if item.reason:
            continue
        number = sequences.insert_enrolment(
            conn, sequence_id, item.business_id, item.address, item.person, item.service, at, by
        )
        if number is not None:
            made.append(number)
            pipeline.add_activity(conn, item.business_id, by, f"put into the sequence {sequence.name!r}", at, "note")
    on_a_list = {item.business_id for item in chosen if not item.reason}
    listless = [number for number in on_a_list if not pipeline.memberships(conn, number)]
    if listless:
        shortlists.add_members(conn, _list_named(conn, sequence.name, at), listless, at)
    return made


def _list_named(conn: sqlite3.Connection, name: str, at: str) -> int:
    """The shortlist of a sequence, for businesses that are on none: a task needs a list to stand on."""
    try:
        return shortlists.add_shortlist(conn, name, at)
    except NameTaken:
        return shortlists.list_named(conn, name) or 0


def end(
    conn: sqlite3.Connection, enrolment: Enrolment, reason: str, *, finished: bool = False, by: When | None = None
) -> None:
    """End a way through a sequence; what it had not sent is cancelled. by: what ended it, where tasks follow on that."""
    if enrolment.state not in {"active", "paused"}:
        return
    state = "finished" if finished else "stopped"
    sequences.change_enrolment(conn, enrolment.id, state=state, reason=reason, next_at="", ended_at=utc_now())
    messages.cancel_of(conn, enrolment.id, reason)
    if by is not None:
        steps = sequences.get_sequence(conn, enrolment.sequence_id).sequence.steps
        for step in ending_steps(steps, by):
            add_task(conn, enrolment, step, reason)


def end_for(conn: sqlite3.Connection, message: Message, reason: str, by: When | None = None) -> None:
    """End the way through a sequence that a message is of, if it is of one."""
    if message.enrolment_id:
        end(conn, sequences.get_enrolment(conn, message.enrolment_id), reason, by=by)


def end_all_of(
    conn: sqlite3.Connection, business_id: int, addresses: Iterable[str], reason: str, by: When | None = None
) -> int:
    """End every sequence that a business, or any of these addresses, is in; return how many."""
    running = sequences.running_of(conn, business_id, addresses)
    for enrolment in running:
        end(conn, enrolment, reason, by=by)
    return len(running)


TASK_WORDS = {
    StepKind.CALL: "call",
    StepKind.TEXT: "send a text message",
    StepKind.SOCIAL: "write on their social page",
}


def add_task(conn: sqlite3.Connection, enrolment: Enrolment, step: SequenceStep, why: str = "") -> None:
    """Have somebody do a step today: it is due in every list that the business is on."""
    name = sequences.get_sequence(conn, enrolment.sequence_id).sequence.name
    words = f"to do for the sequence {name!r}: {TASK_WORDS[step.kind]}" + (f" ({why})" if why else "")
    pipeline.add_activity(conn, enrolment.business_id, "", words, utc_now(), "note")
    pipeline.update_all_lists(conn, enrolment.business_id, "", today())


def write_again(conn: sqlite3.Connection, message: Message) -> None:
    """Cancel a message whose facts are too old, and do its step again: the website is looked at again first."""
    messages.change_message(conn, message.id, state="cancelled", problem="its facts were too old; it is written again")
    sequences.change_enrolment(conn, message.enrolment_id, step=message.step - 1, next_at=utc_now())


def skip(conn: sqlite3.Connection, enrolment: Enrolment, why: str) -> None:
    """Leave out what comes next: the message that waits, else the next step; the one after it follows at its own time."""
    cancelled = messages.cancel_of(conn, enrolment.id, why)
    skip_step(conn, enrolment, why, 0 if cancelled else 1)


def skip_step(conn: sqlite3.Connection, enrolment: Enrolment, why: str, more: int = 0) -> None:
    """Go on behind the step that an enrolment is at, or so many steps later."""
    steps = sequences.get_sequence(conn, enrolment.sequence_id).sequence.steps
    step = enrolment.step + more
    if step + 1 >= len(steps):
        end(conn, enrolment, why, finished=True)
        return
    at = enrolment.next_at or utc_now()
    sequences.change_enrolment(conn, enrolment.id, step=step, next_at=at, reason=why)


def move(conn: sqlite3.Connection, enrolment: Enrolment, sequence_id: int, by: str) -> None:
    """End a business's way through its sequence and put it into another from the beginning. Raises NotFound."""
    name = sequences.get_sequence(conn, sequence_id).sequence.name
    end(conn, enrolment, f"moved to {name!r} by {by}")
    person = (enrolment.address, enrolment.person, enrolment.service)
    sequences.insert_enrolment(conn, sequence_id, enrolment.business_id, *person, utc_now(), by)
