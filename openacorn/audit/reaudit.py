"""Audits kept, compared with the one before, begun again, and judged again from the store."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import timedelta
from typing import Any

from openacorn.audit.auditor import audit_task, audit_task_key, facts_of
from openacorn.audit.reputation import ReputationAuditor
from openacorn.business.store import audits, businesses, history, listings, own_trades, pictures
from openacorn.business.store.audits import StoredAudit, StoredEvidence
from openacorn.clock import now, utc_now
from openacorn.core.audit.changes import changes
from openacorn.core.audit.finding import Finding
from openacorn.core.audit.reconcile import judged
from openacorn.core.gather.facts import DEFAULT
from openacorn.core.match.relationship import KINDS
from openacorn.core.trades.trade import Trade
from openacorn.db.database import Database
from openacorn.errors import InvalidInput
from openacorn.runs.store import sweeps, tasks
from openacorn.score.scorer import Scorer

AGAIN = {
    (): "Audits made again",
    ("browser",): "Sites looked at in a browser",
    ("whole_site",): "Sites read whole",
    ("whole_site", "browser"): "Sites read whole and looked at in a browser",
}
"""The sweeps that such runs belong to, by what they do beyond the usual: they gather nothing."""

AT_ONCE = 200
ALL_BUT_REFUSED = {"", *KINDS} - {"refused"}


class NothingToAudit(InvalidInput):
    """Nobody is left to be audited; the message says why."""

    where = "ids"
    remedy = "choose other businesses"


def replace_audit(conn: sqlite3.Connection, audit: StoredAudit) -> None:
    """Store an audit; the one before is kept, and what changed since is noted."""
    before = audits.list_findings(conn, audit.business_id)
    earlier = audits.audited_websites(conn, [audit.business_id]).get(audit.business_id)
    # a website that merging changed within the day is no news from out there
    settled = earlier is not None and (earlier[0] == audit.website or earlier[1][:10] != audit.at[:10])
    if earlier is not None and settled:
        history.keep_audit(conn, audit.business_id, earlier[1], earlier[0], before)
        history.add_events(conn, audit.business_id, audit.at, changes(before, audit.findings))
    audits.save_audit(conn, replace(audit, around=audits.with_people(conn, audit)))


def queue_again(
    conn: sqlite3.Connection,
    ids: Sequence[int],
    *,
    rendered: bool = False,
    whole: bool = False,
    held_back: bool = False,
) -> int:
    """A run that audits these businesses again, however fresh their audit is; the marked are held back, unless
    `held_back` lets in all but those who refused.

    rendered: open the sites in a browser too; whole: read every page of them up to the limit. Returns its id.
    Raises NothingToAudit.
    """
    allowed = ALL_BUT_REFUSED if held_back else {""}
    rows = [row for row in businesses.get_businesses(conn, ids) if row["relationship"] in allowed]
    if not rows:
        raise NothingToAudit(
            "nobody is left to audit: all are clients, in conversation or do-not-contact, or there are none"
        )
    more = (*(["whole_site"] if whole else []), *(["browser"] if rendered else []))
    sweep = sweeps.gathering_nothing(conn, AGAIN[more], (*DEFAULT, *more), utc_now())
    run_id = sweeps.add_run(conn, sweep, utc_now())
    tasks.add_tasks(conn, run_id, "audit", map(audit_task_key, rows))
    return run_id


def older_than(conn: sqlite3.Connection, days: int) -> list[int]:
    """Businesses in view whose audit is older than so many days."""
    before = (now() - timedelta(days=days)).isoformat(timespec="seconds")
    return businesses.audited_before(conn, before)


def _answers(findings: Mapping[str, Finding]) -> dict[str, tuple[str, str]]:
    return {check: (str(finding.outcome), finding.reason) for check, finding in findings.items()}


def _site_answers(stored: Mapping[str, Finding], now_outcomes: Mapping[str, Finding]) -> dict[str, tuple[str, str]]:
    return {check: answer for check, answer in _answers(stored).items() if check in now_outcomes}


def _judged_again(
    conn: sqlite3.Connection, row: Mapping[str, Any], stored: StoredEvidence, own: tuple[Trade, ...]
) -> dict[str, Finding]:
    """Every check on evidence that is there."""
    task = audit_task(row, listings.listed_email(conn, row["id"]), own_trades=own)
    facts = replace(facts_of(task, stored.found), at=stored.at)
    return judged(facts, stored.crawl, stored.search, stored.names)


def add_look(conn: sqlite3.Connection, look: StoredAudit, own: tuple[Trade, ...]) -> None:
    """Add what a browser saw to the audit that is there; nothing if the website is another by now."""
    stored = audits.get_evidence(conn, look.business_id)
    if stored is None or stored.crawl is None or stored.website != look.website or look.crawl is None:
        return
    crawl = replace(stored.crawl, rendered=audits.unpack_crawl(look.crawl).rendered)
    seen = replace(stored, crawl=crawl)
    for row in businesses.get_businesses(conn, [look.business_id]):
        audits.save_look(conn, look, crawl)
        audits.merge_findings(conn, look.business_id, _judged_again(conn, row, seen, own))


def queue_looks(conn: sqlite3.Connection, run_id: int, most: int) -> int:
    """Queue a browser's look at the sites of a run that are worth most, of those that answer and that it has not seen since
    they were audited; return how many."""
    rows = pictures.worth_a_look(conn, run_id, most)
    tasks.add_tasks(conn, run_id, "look", map(audit_task_key, rows))
    return len(rows)


def evaluate_again(database: Database) -> int:
    """Run every check again on the stored evidence, with no network; return how many businesses changed in an answer.

    For when a rule changed: events are not noted, as nothing changed out there.
    """
    with database.read() as conn:
        ids = audits.audited_ids(conn)
    changed = 0
    for start in range(0, len(ids), AT_ONCE):
        with database.write() as conn:
            piece = ids[start : start + AT_ONCE]
            own = own_trades.trades_there(conn).own
            for row in businesses.get_businesses(conn, piece):
                stored = audits.get_evidence(conn, row["id"])
                if stored is None:
                    continue
                findings = _judged_again(conn, row, stored, own)
                if _answers(findings) != _site_answers(audits.list_findings(conn, row["id"]), findings):
                    audits.merge_findings(conn, row["id"], findings)
                    changed += 1
            ReputationAuditor(conn).judge(piece)
            Scorer(conn).score(piece)
    return changed
