"""What can be done to many businesses at once from the table, and how each is undone."""

import sqlite3
from collections.abc import Callable, Sequence
from typing import Any

from openacorn.acting import acting
from openacorn.business.store import action_log, businesses, membership, relationships, shortlists, verdicts
from openacorn.core.match.relationship import KINDS
from openacorn.errors import InvalidInput
from openacorn.match.recluster import refresh_relationships
from openacorn.outreach import mailings, results
from openacorn.outreach.assigning import assign_members
from openacorn.outreach.results import ContactReport, undo_result
from openacorn.score.scorer import REFUSED, Scorer
from openacorn.score.win_model import learn
from openacorn.settings import Settings


class ActionError(InvalidInput):
    """Something that cannot be done; the message says why."""

    where = "action"
    remedy = "choose otherwise; nothing was changed"


Undo = dict[str, Any]
Do = Callable[[sqlite3.Connection, Sequence[int], str, str, Settings], tuple[str, Undo]]


def _many(count: int) -> str:
    return "one business" if count == 1 else f"{count:,} businesses"


def _before(conn: sqlite3.Connection, ids: Sequence[int]) -> Undo:
    had = verdicts.get_verdict(conn, ids)
    return {"kind": "verdicts", "before": [[business, *had.get(business, ("", ""))] for business in ids]}


def _reject(conn: sqlite3.Connection, ids: Sequence[int], word: str, at: str, _settings: Settings) -> tuple[str, Undo]:
    undo = _before(conn, ids)
    verdicts.upsert_verdict(conn, ids, "rejected", word or "no reason given", at)
    return f"rejected {_many(len(ids))}: {word or 'no reason given'}", undo


def _keep(conn: sqlite3.Connection, ids: Sequence[int], _word: str, at: str, _settings: Settings) -> tuple[str, Undo]:
    undo = _before(conn, ids)
    verdicts.upsert_verdict(conn, ids, "kept", "", at)
    return f"kept {_many(len(ids))}", undo


def _tag(conn: sqlite3.Connection, ids: Sequence[int], word: str, _at: str, _settings: Settings) -> tuple[str, Undo]:
    if not word:
        raise ActionError("write a tag")
    new = membership.add_tag(conn, ids, word)
    return f"tagged {_many(len(new))} “{word}”", {"kind": "untag", "tag": word, "ids": new}


def _untag(conn: sqlite3.Connection, ids: Sequence[int], word: str, _at: str, _settings: Settings) -> tuple[str, Undo]:
    had = membership.drop_tag(conn, ids, word)
    return f"took the tag “{word}” off {_many(len(had))}", {"kind": "tag", "tag": word, "ids": had}


def _shortlist(
    conn: sqlite3.Connection, ids: Sequence[int], word: str, at: str, _settings: Settings
) -> tuple[str, Undo]:
    if not word.isdigit():
        raise ActionError("name a shortlist by its number")
    return _put_on(conn, ids, int(word), at)


def _put_on(conn: sqlite3.Connection, ids: Sequence[int], shortlist_id: int, at: str) -> tuple[str, Undo]:
    on_it = {
        business
        for business, kinds in membership.groups_of(conn, ids).items()
        if str(shortlist_id) in kinds.get("shortlist", ())
    }
    new = [business for business in ids if business not in on_it]
    shortlists.add_members(conn, shortlist_id, new, at)
    assign_members(conn, shortlist_id, acting(), at, set(new))
    return f"put {_many(len(new))} on a shortlist", {"kind": "unlist", "shortlist": shortlist_id, "ids": new}


def _relationship(
    conn: sqlite3.Connection, ids: Sequence[int], word: str, at: str, settings: Settings
) -> tuple[str, Undo]:
    if word == REFUSED:  # the same act as when it comes of a call
        scorer = Scorer(conn)
        contacts = [
            results.apply_result(conn, business, ContactReport(REFUSED), at, settings, scorer)[1] for business in ids
        ]
        learn(conn)
        return f"noted {_many(len(ids))} as refused", {"kind": "contacts", "contacts": contacts}
    if word not in KINDS:
        raise ActionError(f"a relationship is one of {', '.join(KINDS)}")
    undo, scorer = [], Scorer(conn)
    for row in businesses.get_businesses(conn, ids):
        undo += results.set_relationship(conn, row, word, at, settings, scorer)
    return f"noted {_many(len(ids))} as {word}", {"kind": "relationships", "before": undo}


ACTIONS: dict[str, Do] = {
    "reject": _reject, "keep": _keep, "tag": _tag, "untag": _untag, "shortlist": _shortlist, "relationship": _relationship,
}  # fmt: skip


def shortlist(conn: sqlite3.Connection, shortlist_id: int, ids: Sequence[int], at: str) -> tuple[int | None, int]:
    """Put businesses on a shortlist; return (the number under which it can be undone, None if all were on it; how many are new)."""
    there = [row["id"] for row in businesses.get_businesses(conn, ids)]
    text, undo = _put_on(conn, there, shortlist_id, at)
    new = len(undo["ids"])
    return (action_log.insert_action(conn, at, text, undo) if new else None), new


def apply_action(
    conn: sqlite3.Connection, kind: str, ids: Sequence[int], word: str, at: str, settings: Settings
) -> int:
    """Do something to businesses; return the number under which it can be undone. Raises ActionError."""
    if kind not in ACTIONS:
        raise ActionError(f"{kind!r} cannot be done; choose from {', '.join(ACTIONS)}")
    there = [row["id"] for row in businesses.get_businesses(conn, ids)]
    if not there:
        raise ActionError("nobody is chosen")
    text, undo = ACTIONS[kind](conn, there, word.strip(), at, settings)
    return action_log.insert_action(conn, at, text, undo)


def undo_action(conn: sqlite3.Connection, number: int, at: str, settings: Settings) -> str:
    """Take an action back; return what it was. Raises NotFound, ActionError if that was done already."""
    action_id = action_log.get_action(conn, number)
    if action_id.undone:
        raise ActionError("this was undone already")
    what = action_id.undo
    if what["kind"] == "verdicts":
        for business, verdict, reason in what["before"]:
            if verdict:
                verdicts.upsert_verdict(conn, [business], verdict, reason, at)
            else:
                verdicts.restore_verdict(conn, [business])
    elif what["kind"] == "tag":
        membership.add_tag(conn, what["ids"], what["tag"])
    elif what["kind"] == "untag":
        membership.drop_tag(conn, what["ids"], what["tag"])
    elif what["kind"] in {"contact", "contacts", "mailing"}:
        if what["kind"] == "mailing":
            mailings.forget(conn, what["mailing"])
        for contact in what.get("contacts", [what]):
            undo_result(conn, contact, at, settings)
        learn(conn)
    elif what["kind"] == "unlist":
        shortlists.drop_members(conn, what["shortlist"], what["ids"])
    else:
        relationships.restore_relationships(conn, what["before"], at)
        refresh_relationships(conn, settings)
    action_log.mark_undone(conn, number)
    return action_id.text
