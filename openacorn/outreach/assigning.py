"""Handing businesses of a list to people by the agency's rules."""

import sqlite3
from collections import Counter
from collections.abc import Collection

from openacorn.business.store import own_trades, pipeline
from openacorn.business.store.pipeline import Move
from openacorn.core.geo.geodesy import Point
from openacorn.core.geo.territory import checked_territory
from openacorn.core.outreach.assignment import AssignmentRule, Unassigned, assign
from openacorn.core.trades.catalogue import Catalogue
from openacorn.outreach.store import assignment
from openacorn.outreach.store.assignment import StoredRule


def _within(trade: str, trades: Catalogue) -> frozenset[str]:
    """A trade with all narrower ones; empty for any trade."""
    if not trade:
        return frozenset()
    found = {trade}
    while more := {item.id for item in trades.trades if item.parent in found} - found:
        found |= more
    return frozenset(found)


def _rule(stored: StoredRule, trades: Catalogue) -> AssignmentRule:
    area = checked_territory(stored.areas) if stored.areas else None
    return AssignmentRule(_within(stored.trade, trades), area, stored.people)


def assign_members(
    conn: sqlite3.Connection, shortlist_id: int, by: str, at: str, among: Collection[int] | None = None
) -> Counter[str]:
    """Give members of a list that nobody has to people, by the rules; return person → how many more they have now.

    among: of these businesses alone.
    """
    stored = assignment.list_rules(conn)
    if not stored:
        return Counter()
    trades = own_trades.trades_there(conn)
    waiting = [
        Unassigned(number, trade, Point(lat, lon) if lat is not None and lon is not None else None)
        for number, trade, lat, lon in assignment.nobodys(conn, shortlist_id)
        if among is None or number in among
    ]
    held = assignment.holders(conn, [business.id for business in waiting])
    found = assign(waiting, [_rule(rule, trades) for rule in stored], assignment.open_by_person(conn), held)
    for person in sorted(set(found.values())):
        theirs = [number for number, name in found.items() if name == person]
        pipeline.move_members(conn, shortlist_id, theirs, Move(owner=person), by, at)
    return Counter(found.values())
