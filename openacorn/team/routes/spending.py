"""What was spent this month, by each person and on what, and what each may spend."""

import sqlite3

from fastapi import APIRouter

from openacorn.api.deps import AppDep
from openacorn.api.schemas import Id
from openacorn.api.threads import DeskRoute
from openacorn.api.who import IdentityDep
from openacorn.core.team.allowance import Allowance
from openacorn.gather.reach import source_titles
from openacorn.runs.store import sweeps
from openacorn.team.allowances import month_began, uses
from openacorn.team.schemas.spending import (
    AllowanceResponse,
    LimitsRequest,
    PersonSpending,
    RunSpending,
    SourceSpending,
    SpendingResponse,
)
from openacorn.team.store import accounts, allowances

router = APIRouter(route_class=DeskRoute, tags=["team"])
RUNS_SHOWN = 20


def _uses(conn: sqlite3.Connection, account: int) -> list[AllowanceResponse]:
    return [AllowanceResponse.model_validate(use) for use in uses(conn, account)]


@router.get("/allowances")
def my_allowances(state: AppDep, who: IdentityDep) -> list[AllowanceResponse]:
    """What you have used of what you may do."""
    with state.database.read() as conn:
        return _uses(conn, who.account) if who.account else []


@router.get("/spending")
def spending(state: AppDep) -> SpendingResponse:
    """This month's requests and cost by person, source and run, and what a business won has cost."""
    month = month_began()
    with state.database.read() as conn:
        requests, cost = sweeps.spent_since(conn, month)
        titles, (won, earned) = source_titles(conn), allowances.won_since(conn, month)
        people = [
            PersonSpending(id=one.id, name=one.name, allowances=_uses(conn, one.id))
            for one in accounts.list_accounts(conn)
            if one.active
        ]
        sources = [
            SourceSpending(source=source, title=titles.get(source, source), requests=asked, cost=spent)
            for source, asked, spent in allowances.spent_by_source(conn, month)
        ]
        runs = [RunSpending.model_validate(dict(row)) for row in allowances.spent_by_run(conn, month, RUNS_SHOWN)]
    return SpendingResponse(
        month=month[:7], requests=requests, cost=cost, people=people, sources=sources, runs=runs, won=won, earned=earned,
        cost_per_won=cost / won if won else None,
    )  # fmt: skip


@router.put("/spending/{account}")
def set_limits(state: AppDep, account: Id, asked: LimitsRequest) -> SpendingResponse:
    """Say how much somebody may do."""
    given = {Allowance(name): most for name, most in asked.model_dump().items() if most is not None}
    with state.database.write() as conn:
        accounts.get_account(conn, account)
        allowances.set_limits(conn, account, given)
    return spending(state)
