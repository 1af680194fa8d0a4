"""Log the result of a contact: one action writes history, relationship, stages on all lists, and the win model."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any, cast

from openacorn.business.store import action_log, audits, businesses, outcomes, pipeline, relationships, services
from openacorn.business.store.outcomes import SalesOutcome, Stage
from openacorn.business.store.pipeline import Move
from openacorn.core.match.relationship import Identifier, identifiers_of
from openacorn.core.outreach.results import BY_STAGE, ContactResult, ResultError, result_of
from openacorn.match.recluster import refresh_relationship, refresh_relationships
from openacorn.outreach.recipients import own_addresses
from openacorn.score import win_model
from openacorn.score.scorer import REFUSED, Scorer
from openacorn.settings import Settings

CONVERSATION = "in conversation"


@dataclass(frozen=True, slots=True)
class ContactReport:
    """The result of a contact. result: of core.outreach.results; service: what was offered, "" for what was offered before or
    else the best offer; follow_up: a day to come back (ISO 8601), "" for none; amount in the agency's currency, of a sale; channel:
    by what they were contacted ("call", "email", "text", "social"), "" if that is not known."""

    result: str
    service: str = ""
    note: str = ""
    follow_up: str = ""
    amount: float | None = None
    by: str = ""
    channel: str = ""


def _service(conn: sqlite3.Connection, row: Mapping[str, Any], report: ContactReport) -> str:
    """What was offered. Raises ResultError for an unknown service."""
    if report.service:
        if report.service not in {service.id for service in services.list_services(conn)}:
            raise ResultError(f"there is no service {report.service!r}")
        return report.service
    earlier = outcomes.get_outcome(conn, row["id"])
    return earlier[-1].service if earlier else str(row["offer"])


def _words(report: ContactReport, title: str) -> str:
    parts = [report.result]
    if report.result == "call back" and report.follow_up:
        parts[0] += f" on {report.follow_up}"
    if report.result in {"won", "lost", "proposed"} and title:
        parts.append(title)
    if report.amount is not None:
        parts.append(f"{report.amount:,.0f}")
    return ", ".join(parts) + (f": {report.note}" if report.note else "")


def identifiers_for(conn: sqlite3.Connection, row: Mapping[str, Any], settings: Settings) -> list[Identifier]:
    """Everything by which a business is recognised as one that has a relationship with us."""
    own = own_addresses(audits.list_own_contacts(conn, row["id"]), row["website"])
    return list(
        identifiers_of(
            settings.region,
            name=row["name"],
            places=(row["town"],),
            website=row["website"],
            phones=(row["phone"],),
            emails=own,
        )
    )


def set_relationship(
    conn: sqlite3.Connection, row: Mapping[str, Any], kind: str, at: str, settings: Settings, scorer: Scorer
) -> list[list[str]]:
    """Set what a business is to us ("": in conversation no more); return what its marks were before, as an undo needs it.

    The one way to do so, whether it came of a call, was done to many at once, or stood in a list. One that shares a mark (another
    branch, a double) is judged with it, and reached no more if it refused.
    """
    marks = identifiers_for(conn, row, settings)
    known = relationships.known_relationships(conn)
    if not kind:
        marks = [mark for mark in marks if known.get((mark.identifier_type, mark.value)) == CONVERSATION]
    before = [
        [mark.identifier_type, mark.value, known.get((mark.identifier_type, mark.value), ""), row["name"]]
        for mark in marks
    ]
    if kind:
        relationships.insert_relationships(conn, kind, [(mark, row["name"]) for mark in marks], at)
    else:
        relationships.restore_relationships(conn, [(mark.identifier_type, mark.value, "", "") for mark in marks], at)
    scorer.score({row["id"], *refresh_relationship(conn, row, settings)})
    return before


def import_relationships(
    conn: sqlite3.Connection, kind: str, marks: Sequence[tuple[Identifier, str]], at: str, settings: Settings
) -> int:
    """Keep a list of marks (with how they were written) under a relationship, and give it to the businesses that answer to one.

    Returns how many businesses changed. Those who refused are noted as if they had said so on the phone; for the others the list
    says all there is, so that a line taken out of it holds nobody back any more.
    """
    relationships.insert_relationships(conn, kind, marks, at)
    changed = businesses.get_businesses(conn, refresh_relationships(conn, settings))
    scorer = Scorer(conn)
    for row in changed:
        if row["relationship"] == kind == REFUSED:
            apply_result(conn, row["id"], ContactReport(REFUSED, note="stood in a list"), at, settings, scorer)
    win_model.learn(conn)
    return len(changed)


def _follow(
    conn: sqlite3.Connection,
    row: Mapping[str, Any],
    result: ContactResult,
    report: ContactReport,
    at: str,
    settings: Settings,
    scorer: Scorer,
) -> list[list[str]]:
    """What follows from a result beyond the history: outcome and relationship. Returns the relationships before."""
    service = _service(conn, row, report)
    if result.outcome and service:
        reason = (report.note or result.id) if result.outcome == "lost" else ""
        win_model.save_trained(
            conn, row["id"],
            SalesOutcome(service, None, at, cast(Stage, result.outcome), report.amount, reason, report.channel), scorer,
        )  # fmt: skip
    before: list[list[str]] = []
    if result.relationship is not None:
        before = set_relationship(conn, row, result.relationship, at, settings, scorer)
    return before


def record_result(
    conn: sqlite3.Connection, business_id: int, report: ContactReport, at: str, settings: Settings
) -> int:
    """Log the result of a contact; return the number of the action that undoes it. Raises NotFound, ResultError."""
    text, undo = apply_result(conn, business_id, report, at, settings, Scorer(conn))
    win_model.learn(conn)
    return action_log.insert_action(conn, at, text, undo)


def apply_result(
    conn: sqlite3.Connection, business_id: int, report: ContactReport, at: str, settings: Settings, scorer: Scorer
) -> tuple[str, dict[str, Any]]:
    """Log the result of a contact; return (what it was, what undoing it needs). Raises NotFound, ResultError.

    A day to follow up is cleared by the next result, unless that names another; a letter, or a call that nobody took,
    leaves it as it was. Learning is left to the caller, who may have more to note.
    """
    result = result_of(report.result)
    row = businesses.get_business(conn, business_id)
    if result.id == "call back" and not report.follow_up:
        raise ResultError("say on which day to call back")
    titles = {service.id: service.title for service in services.list_services(conn)}
    places, kept = pipeline.memberships(conn, business_id), outcomes.get_outcome(conn, business_id)
    service = _service(conn, row, report)
    text = _words(report, titles.get(service, service))
    step = pipeline.add_activity(conn, business_id, report.by, text, at, result.step)
    day = report.follow_up if report.follow_up or result.step == "talk" else None
    pipeline.update_all_lists(conn, business_id, result.stage, day)
    before = _follow(conn, row, result, report, at, settings, scorer)
    undo = {
        "kind": "contact", "business": business_id, "steps": [step], "places": places,
        "outcomes": [asdict(item) for item in kept], "relationships": before,
    }  # fmt: skip
    return f"{row['name']}: {text}", undo


def undo_result(conn: sqlite3.Connection, what: Mapping[str, Any], at: str, settings: Settings) -> None:
    """Undo a noted contact. Learning is left to the caller."""
    business = what["business"]
    pipeline.delete_activities(conn, what["steps"])
    pipeline.restore_memberships(conn, business, what["places"])
    outcomes.restore_outcome(conn, business, [SalesOutcome(**item) for item in what["outcomes"]])
    relationships.restore_relationships(conn, what["relationships"], at)
    for row in businesses.get_businesses(conn, [business]):
        refresh_relationship(conn, row, settings)
        Scorer(conn).score([business])


def move(
    conn: sqlite3.Connection, shortlist_id: int, ids: Sequence[int], what: Move, by: str, at: str, settings: Settings
) -> int:
    """Change members of a list; a move to a stage that is reached by contact does what that contact's result does.

    Returns how many changed. Raises NotFound for who is not on the list.
    """
    stages = {business: {s: stage for s, stage, _ in pipeline.memberships(conn, business)} for business in ids}
    changed = pipeline.move_members(conn, shortlist_id, ids, what, by, at)
    if what.stage in BY_STAGE:
        result, scorer = result_of(BY_STAGE[what.stage]), Scorer(conn)
        for row in businesses.get_businesses(conn, ids):
            if stages[row["id"]].get(shortlist_id) != what.stage:
                for _, _, day in [place for place in pipeline.memberships(conn, row["id"]) if place[0] == shortlist_id]:
                    pipeline.update_all_lists(conn, row["id"], what.stage, day)
                _follow(conn, row, result, ContactReport(result.id, by=by), at, settings, scorer)
        win_model.learn(conn)
    return changed
