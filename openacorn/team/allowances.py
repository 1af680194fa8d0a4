"""Allowances: who may do how much, warned at 80 % and stopped at 100 %, with who can raise it."""

import sqlite3
from collections.abc import Iterable

from openacorn.clock import midnight, utc_now
from openacorn.core.team.allowance import WORDS, Allowance, AllowanceUse
from openacorn.core.team.permission import Permission
from openacorn.errors import Conflict
from openacorn.team.store import accounts, allowances


class AllowanceReached(Conflict):
    """Somebody has done as much as they may; the message says of what, the remedy who can raise it."""

    where = "allowance"


def month_began() -> str:
    """When this month began, as the store has moments."""
    return f"{utc_now():.7}"


def uses(conn: sqlite3.Connection, account: int) -> list[AllowanceUse]:
    """What somebody has used of each allowance, limited or not."""
    limits, used = allowances.get_limits(conn, account), allowances.used(conn, account, month_began(), midnight())
    return [AllowanceUse(what, used[what], limits.get(what)) for what in Allowance]


def _who_raises(conn: sqlite3.Connection) -> str:
    who = [one.name for one in accounts.list_accounts(conn) if one.active and Permission.MANAGE in one.permissions]
    return f"ask {' or '.join(who[:3])} to raise it, under Team"


def check_allowance(conn: sqlite3.Connection, account: int, wanted: Iterable[Allowance], more: float = 1.0) -> None:
    """May somebody do so much more? account 0: without accounts, everything. Raises AllowanceReached."""
    if not account or not allowances.get_limits(conn, account):
        return  # nothing is counted for a person without a limit
    for use in uses(conn, account):
        left = use.left()
        if use.what in wanted and left is not None and left < more:
            words, window = WORDS[use.what]
            what = f"your allowance of {use.most:,.10g} {words} a {window} is used up"
            if left > 0:
                what = f"your allowance leaves {left:,.10g} {words} this {window}, and this would be {more:,.10g}"
            reached = AllowanceReached(what)
            reached.remedy = _who_raises(conn)
            raise reached


def run_limits(conn: sqlite3.Connection, account: int) -> dict[Allowance, tuple[float, float]]:
    """What the starter of a run may still have it ask: allowance → (used so far, most)."""
    if not account:
        return {}
    return {
        use.what: (use.used, use.most)
        for use in uses(conn, account)
        if use.what in {Allowance.REQUESTS, Allowance.COST} and use.most is not None
    }
