"""Who has which businesses: rules, handing out a list, and one's own day."""

from collections.abc import Sequence

from fastapi import APIRouter, Query

from openacorn.acting import acting
from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.business.store import own_trades, shortlists
from openacorn.clock import midnight, next_midnight, utc_now
from openacorn.outreach.assigning import assign_members
from openacorn.outreach.routes.calls import calls_now
from openacorn.outreach.schemas.assignment import (
    AssignedResponse,
    AssignmentRuleResponse,
    AssignmentRulesRequest,
    AssignmentRulesResponse,
    MyDay,
)
from openacorn.outreach.store import appointments, assignment
from openacorn.outreach.store.assignment import StoredRule

router = APIRouter(route_class=DeskRoute, tags=["assignment"])
SHOWN = 50


@router.get("/assignment-rules")
def list_rules(state: AppDep) -> AssignmentRulesResponse:
    """The rules by which businesses of a list are handed out, and what everybody has now."""
    with state.database.read() as conn:
        rules = [AssignmentRuleResponse.model_validate(rule) for rule in assignment.list_rules(conn)]
        return AssignmentRulesResponse(rules=rules, open=assignment.open_by_person(conn))


@router.put("/assignment-rules")
def save_rules(state: AppDep, asked: AssignmentRulesRequest) -> AssignmentRulesResponse:
    """Keep these rules in place of those there were. What was handed out stays."""
    with state.database.write() as conn:
        trades = own_trades.trades_there(conn)
        for rule in asked.rules:
            if rule.trade:
                trades.of(rule.trade)
        kept = [StoredRule(rule.trade, rule.territory_id, "", tuple(rule.people)) for rule in asked.rules]
        assignment.replace_rules(conn, kept)
    return list_rules(state)


@router.post("/shortlists/{shortlist_id}/assign")
def hand_out(state: AppDep, shortlist_id: int, by: str = Query(default="", max_length=60)) -> AssignedResponse:
    """Give members that nobody has to people, by the rules."""
    with state.database.write() as conn:
        shortlists.must_exist(conn, shortlist_id)
        found = assign_members(conn, shortlist_id, acting() or by.strip(), utc_now())
        return AssignedResponse(assigned=dict(found), left=len(assignment.nobodys(conn, shortlist_id)))


@router.get("/my-day")
def my_day(state: AppDep, name: str = Query(default="", max_length=60)) -> MyDay:
    """What is due, agreed, answered and new for you. name: whose day, where nobody signs in."""
    who = acting() or name.strip()
    if not who:  # what nobody has is nobody's day
        return MyDay(name="", due=[], appointments=[], answers=[], page_replies=[], new=[], more={})
    with state.database.read() as conn:
        agreed = appointments.list_appointments(conn, 0, by=who, since=midnight())
        tomorrow = next_midnight()
        answers = assignment.answers_for(conn, who, SHOWN + 1, on_pages=False)
        replies = assignment.answers_for(conn, who, SHOWN + 1, on_pages=True)
        new = assignment.new_for(conn, who, 10 * SHOWN)
    due = calls_now(state, 0, who)
    lists: dict[str, Sequence[object]] = {"due": due, "answers": answers, "page_replies": replies, "new": new}
    return MyDay(
        name=who,
        due=due[:SHOWN],
        appointments=[item for item in agreed if item.at < tomorrow],
        answers=answers[:SHOWN],
        page_replies=replies[:SHOWN],
        new=new[:SHOWN],
        more={part: len(found) - SHOWN for part, found in lists.items() if len(found) > SHOWN},
    )
