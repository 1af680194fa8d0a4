"""Mail-merge files: made from a shortlist, remembered once they go out."""

import sqlite3
from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict, replace
from datetime import timedelta
from typing import Any

from openacorn.business.store import action_log, businesses
from openacorn.core.desk.angle import Angle
from openacorn.core.outreach.mailing import Letter, once_each
from openacorn.errors import InvalidInput
from openacorn.outreach import results
from openacorn.outreach.pitch import Pitch, Pitcher
from openacorn.outreach.recipients import Recipients, name_of
from openacorn.outreach.results import ContactReport
from openacorn.outreach.store import mailings, owner_pages
from openacorn.score import win_model
from openacorn.score.scorer import Scorer
from openacorn.settings import Settings


class NobodyToWriteTo(InvalidInput):
    """A mailing with nobody in it; the message says why."""

    where = "shortlist"
    remedy = "verify addresses, or choose fewer days; nothing was noted"


class Mailing:
    """Decides about one business after the other. days: nobody who was spoken or written to within so many."""

    def __init__(
        self, conn: sqlite3.Connection, pitcher: Pitcher, settings: Settings, days: int, address: Callable[[str], str]
    ) -> None:
        self._conn, self._pitcher, self._address = conn, pitcher, address
        since = (pitcher.now - timedelta(days=days)).isoformat(timespec="seconds")
        self._public = bool(settings.public_address)  # an address of this machine is a dead one to who gets the letter
        self._recipients = Recipients(conn, settings, since)

    def letter(self, row: dict[str, Any], holding: Sequence[Angle]) -> Letter:
        """What one business would be written, or why it is not."""
        pitch = self._pitcher.pitch(row, holding)
        letter = Letter(row["id"], row["name"], pitch.trade, row["town"])
        addressed = self._recipients.address_of(row["id"], pitch.people)
        barred = self._recipients.barred(row) or addressed.lacking or self._recipients.address_barred(addressed.email)
        reason = barred or ("" if pitch.line else "nothing may be claimed of it now")
        if reason:
            return replace(letter, reason=reason)
        return self._filled(letter, pitch, addressed.email)

    def _filled(self, letter: Letter, pitch: Pitch, email: str) -> Letter:
        token = owner_pages.open_tokens(self._conn, [letter.id]).get(letter.id)
        first, last = name_of(pitch.people, email)
        return replace(
            letter, email=email, first_name=first, last_name=last, line=pitch.line,
            offer=pitch.service.title if pitch.service else "",
            page=self._address(token) if token and self._public else "",
        )  # fmt: skip

    def letters(self, ids: Sequence[int], holding: Mapping[int, Sequence[Angle]]) -> list[Letter]:
        """Every business of a list, the most valuable first, those to be written to and those left out."""
        rows = businesses.get_businesses(self._conn, ids)
        return once_each([self.letter(row, holding.get(row["id"], ())) for row in rows])


def send_off(
    conn: sqlite3.Connection, shortlist_id: int, letters: Sequence[Letter], by: str, at: str, settings: Settings
) -> int:
    """Remember that a mailing went out: in every history, on every list, and row by row. Returns the action that undoes it.

    Raises NobodyToWriteTo.
    """
    written = [letter for letter in letters if not letter.reason]
    if not written:
        raise NobodyToWriteTo("nobody on this list can be written to now; the reasons stand beside the names")
    number = mailings.insert_mailing(conn, at, by, shortlist_id, [asdict(letter) for letter in letters], len(written))
    scorer = Scorer(conn)
    undo = [
        results.apply_result(
            conn, letter.id, ContactReport("mailed", note=letter.email, by=by, channel="email"), at, settings, scorer
        )[1]
        for letter in written
    ]
    win_model.learn(conn)
    return action_log.insert_action(
        conn, at, f"sent off a mailing to {len(written):,}", {"kind": "mailing", "mailing": number, "contacts": undo}
    )


def forget(conn: sqlite3.Connection, number: int) -> None:
    """Take a mailing back: it counts as never sent."""
    mailings.delete_mailing(conn, number)
