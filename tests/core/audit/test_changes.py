"""What is told of two audits of one business, and the owner's mark for a group."""

from typing import Any

import pytest

from openacorn.core.audit.changes import changes
from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.finding import Finding, Outcome
from openacorn.core.audit.group_grades import group_marks


def answer(**outcomes: str) -> dict[str, Finding]:
    return {check: Finding(Outcome(outcome), None, (), f"now {outcome}") for check, outcome in outcomes.items()}


CHANGES: list[tuple[str, dict[str, str], dict[str, str], list[str]]] = [
    ("nothing", {"https": "ok"}, {"https": "ok"}, []),
    ("a gap closed", {"https": "gap"}, {"https": "ok"}, ["https"]),
    ("worse", {"https": "ok", "meta_pixel": "ok"}, {"https": "gap", "meta_pixel": "gap"}, ["https", "meta_pixel"]),
    ("a site that we could not read", {"real_site": "ok", "title": "ok"}, {"real_site": "unknown", "title": "unknown"}, []),
    ("and can read again", {"title": "unknown"}, {"title": "gap"}, []),
    ("launched", {"real_site": "not applicable", "title": "not applicable"}, {"real_site": "ok", "title": "gap"}, ["real_site"]),
    ("gone", {"real_site": "ok", "title": "ok"}, {"real_site": "gap", "title": "not applicable"}, ["real_site"]),
    ("a check that is new", {}, {"https": "gap"}, []),
]  # fmt: skip


@pytest.mark.parametrize(
    ("before", "after", "result"), [case[1:] for case in CHANGES], ids=[case[0] for case in CHANGES]
)
def test_only_what_is_known_to_have_changed_is_told(
    before: dict[str, Any], after: dict[str, Any], result: list[str]
) -> None:
    events = changes(answer(**before), answer(**after))
    assert [event.check for event in events] == result
    assert all(event.text for event in events)


def check(name: str, weight: float, group: Group = Group.SPEED) -> Check:
    return Check(name, group, name, "", (), lambda: None, weight=weight)  # type: ignore[arg-type,return-value]


def test_a_groups_mark_is_the_weighted_share_of_ok_among_what_is_known() -> None:
    checks = (check("a", 2), check("b", 1), check("c", 1), check("d", 4), check("e", 1, Group.MOBILE))
    found = answer(a="ok", b="partial", c="unknown", d="not applicable", e="unknown")
    speed, mobile = group_marks(checks, found)
    assert (speed.group, speed.mark, speed.known) == ("Speed", 83, 0.75)  # (2 + .5) / 3, of 4
    assert (mobile.mark, mobile.known) == (None, 0.0)
