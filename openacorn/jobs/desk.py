"""What can be done to many businesses at once from the table, and how each is undone."""

import sqlite3
from collections.abc import Callable, Sequence
from typing import Any

from openacorn.core.standing import KINDS, marks_of
from openacorn.jobs.contacting import take_back
from openacorn.jobs.settling import judge_all
from openacorn.jobs.winning import learn
from openacorn.settings import Settings
from openacorn.store import businesses, deeds, mailings, membership, shortlists, standings, verdicts


class DeedError(ValueError):
    """Something that cannot be done; the message says why."""


Undo = dict[str, Any]
Do = Callable[[sqlite3.Connection, Sequence[int], str, str, Settings], tuple[str, Undo]]


def _many(count: int) -> str:
    return "one business" if count == 1 else f"{count:,} businesses"


def _before(conn: sqlite3.Connection, ids: Sequence[int]) -> Undo:
    had = verdicts.of(conn, ids)
    return {"kind": "verdicts", "before": [[business, *had.get(business, ("", ""))] for business in ids]}


def _reject(conn: sqlite3.Connection, ids: Sequence[int], word: str, at: str, _settings: Settings) -> tuple[str, Undo]:
    undo = _before(conn, ids)
    verdicts.put(conn, ids, "rejected", word or "no reason given", at)
    return f"rejected {_many(len(ids))}: {word or 'no reason given'}", undo


def _keep(conn: sqlite3.Connection, ids: Sequence[int], _word: str, at: str, _settings: Settings) -> tuple[str, Undo]:
    undo = _before(conn, ids)
    verdicts.put(conn, ids, "kept", "", at)
    return f"kept {_many(len(ids))}", undo


def _tag(conn: sqlite3.Connection, ids: Sequence[int], word: str, _at: str, _settings: Settings) -> tuple[str, Undo]:
    if not word:
        raise DeedError("write a tag")
    new = membership.add_tag(conn, ids, word)
    return f"tagged {_many(len(new))} “{word}”", {"kind": "untag", "tag": word, "ids": new}


def _untag(conn: sqlite3.Connection, ids: Sequence[int], word: str, _at: str, _settings: Settings) -> tuple[str, Undo]:
    had = membership.drop_tag(conn, ids, word)
    return f"took the tag “{word}” off {_many(len(had))}", {"kind": "tag", "tag": word, "ids": had}


def _shortlist(
    conn: sqlite3.Connection, ids: Sequence[int], word: str, at: str, _settings: Settings
) -> tuple[str, Undo]:
    if not word.isdigit():
        raise DeedError("name a shortlist by its number")
    on_it = {
        business for business, kinds in membership.groups_of(conn, ids).items() if word in kinds.get("shortlist", ())
    }
    new = [business for business in ids if business not in on_it]
    shortlists.add_members(conn, int(word), new, at)
    return f"put {_many(len(new))} on a shortlist", {"kind": "unlist", "shortlist": int(word), "ids": new}


def _standing(conn: sqlite3.Connection, ids: Sequence[int], word: str, at: str, settings: Settings) -> tuple[str, Undo]:
    if word not in KINDS:
        raise DeedError(f"a standing is one of {', '.join(KINDS)}")
    marks = [
        (mark, row["name"])
        for row in businesses.get_businesses(conn, ids)
        for mark in marks_of(
            settings.region, name=row["name"], places=(row["town"],), website=row["website"], phones=(row["phone"],)
        )
    ]
    before = standings.known_standings(conn)
    standings.add_standings(conn, word, marks, at)
    judge_all(conn, settings)
    undo = [[mark.known_by, mark.value, before.get((mark.known_by, mark.value), ""), shown] for mark, shown in marks]
    return f"noted {_many(len(ids))} as {word}", {"kind": "standings", "before": undo}


DEEDS: dict[str, Do] = {
    "reject": _reject, "keep": _keep, "tag": _tag, "untag": _untag, "shortlist": _shortlist, "standing": _standing,
}  # fmt: skip


def do(conn: sqlite3.Connection, kind: str, ids: Sequence[int], word: str, at: str, settings: Settings) -> int:
    """Do something to businesses; return the number under which it can be undone. Raises DeedError."""
    if kind not in DEEDS:
        raise DeedError(f"{kind!r} cannot be done; choose from {', '.join(DEEDS)}")
    there = [row["id"] for row in businesses.get_businesses(conn, ids)]
    if not there:
        raise DeedError("nobody is chosen")
    text, undo = DEEDS[kind](conn, there, word.strip(), at, settings)
    return deeds.add_deed(conn, at, text, undo)


def undo(conn: sqlite3.Connection, number: int, at: str, settings: Settings) -> str:
    """Take a deed back; return what it was. Raises NotFound, DeedError if that was done already."""
    deed = deeds.get_deed(conn, number)
    if deed.undone:
        raise DeedError("this was undone already")
    what = deed.undo
    if what["kind"] == "verdicts":
        for business, verdict, reason in what["before"]:
            if verdict:
                verdicts.put(conn, [business], verdict, reason, at)
            else:
                verdicts.take_back(conn, [business])
    elif what["kind"] == "tag":
        membership.add_tag(conn, what["ids"], what["tag"])
    elif what["kind"] == "untag":
        membership.drop_tag(conn, what["ids"], what["tag"])
    elif what["kind"] in {"contact", "mailing"}:
        if what["kind"] == "mailing":
            mailings.drop(conn, what["mailing"])
        for contact in what.get("contacts", [what]):
            take_back(conn, contact, at, settings)
        learn(conn)
    elif what["kind"] == "unlist":
        shortlists.drop_members(conn, what["shortlist"], what["ids"])
    else:
        standings.put_back(conn, what["before"], at)
        judge_all(conn, settings)
    deeds.mark_undone(conn, number)
    return deed.text
