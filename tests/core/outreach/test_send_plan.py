"""The plan of sending keeps every limit, whatever waits."""

from collections import Counter
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.outreach.send_plan import Planned, SendingBox, SendRules, SentSoFar, TooFewRead, Waiting, plan
from openacorn.core.outreach.working_hours import Hours

NOW = datetime(2026, 11, 27, 22, 30, tzinfo=UTC)  # a Friday; in Sydney Saturday morning has come
ZONES = ("Australia/Sydney", "Europe/Berlin", "America/New_York", "Asia/Kathmandu", "")
HOURS = Hours(9 * 60, 17 * 60)


@st.composite
def boxes(draw: st.DrawFn) -> list[SendingBox]:
    made = []
    for number in range(1, draw(st.integers(1, 3)) + 1):
        warm = draw(st.none() | st.integers(0, 20).map(lambda ago: NOW.date() - timedelta(days=ago)))
        made.append(
            SendingBox(number, draw(st.integers(1, 40)), draw(st.integers(1, 3600)), draw(st.integers(0, 900)), warm)
        )
    return made


@st.composite
def waiting(draw: st.DrawFn) -> list[Waiting]:
    item = st.tuples(
        st.sampled_from(("one.example", "two.example", "three.example")), st.integers(-72, 240), st.sampled_from(ZONES),
        st.sampled_from(("AU", "DE", "US", "")), st.sampled_from((0, 0, 0, 1, 2)),
    )  # fmt: skip
    found = draw(st.lists(item, max_size=80))
    return [Waiting(i, d, NOW + timedelta(hours=h), z, c, b) for i, (d, h, z, c, b) in enumerate(found, 1)]


def _local(item: Planned, messages: dict[int, Waiting]) -> datetime:
    return item.at.astimezone(ZoneInfo(messages[item.message].zone))


@given(waiting(), boxes(), st.integers(1, 8), st.integers(0, 30))
def test_no_plan_breaks_a_limit(queue: list[Waiting], senders: list[SendingBox], cap: int, before: int) -> None:
    """Days, domains, gaps, hours, due times and threads, in one property over queues of any shape."""
    rules = SendRules(HOURS, cap, "Australia/Sydney")
    today = NOW.astimezone(ZoneInfo(rules.zone)).date()
    so_far = SentSoFar(
        {(1, today): before}, {("one.example", today): min(before, 3)}, {1: (NOW - timedelta(seconds=5), 999)}
    )
    found = plan(queue, senders, rules, so_far, NOW, NOW + timedelta(days=30))
    messages, by_id = {item.id: item for item in queue}, {box.id: box for box in senders}
    assert len({item.message for item in found}) == len(found), "nobody twice"
    days: Counter[tuple[int, date]] = Counter(so_far.days)
    domains: Counter[tuple[str, date]] = Counter(so_far.domains)
    last = {1: (NOW - timedelta(seconds=5), 999)}
    for item in found:
        message, box, day = messages[item.message], by_id[item.box], item.at.astimezone(ZoneInfo(rules.zone)).date()
        assert item.at >= max(NOW, message.due)
        assert message.box in (0, box.id)
        if message.zone:
            there = _local(item, messages)
            assert there.weekday() < 5
            assert 9 * 60 <= there.hour * 60 + there.minute < 17 * 60
        days[box.id, day] += 1
        domains[message.domain, day] += 1
        assert days[box.id, day] <= box.limit_on(day)
        assert domains[message.domain, day] <= cap
        if box.id in last:
            assert item.at - last[box.id][0] >= box.gap_after(last[box.id][1])
        last[box.id] = (item.at, item.message)


@given(waiting(), boxes())
def test_nothing_is_forgotten(queue: list[Waiting], senders: list[SendingBox]) -> None:
    """With time enough everything goes that some mailbox may send."""
    found = plan(queue, senders, SendRules(HOURS, 1000), SentSoFar(), NOW, NOW + timedelta(days=400))
    known = {box.id for box in senders}
    assert {item.message for item in found} == {item.id for item in queue if item.box in {0, *known}}


@given(waiting(), boxes(), st.integers(1, 40))
def test_the_plan_is_what_is_done(queue: list[Waiting], senders: list[SendingBox], steps: int) -> None:
    """Whoever sends one message after the other, planning again each time, does what was planned at first."""
    rules = SendRules(HOURS, 3)
    whole = plan(queue, senders, rules, SentSoFar(), NOW, NOW + timedelta(days=20))
    left, last = {item.id: item for item in queue}, dict[int, tuple[datetime, int]]()
    days, domains = Counter[tuple[int, date]](), Counter[tuple[str, date]]()
    for expected in whole[:steps]:
        (first, *_) = plan(left.values(), senders, rules, SentSoFar(days, domains, last), expected.at, expected.at)
        assert first == expected
        message, day = left.pop(first.message), first.at.date()
        days[first.box, day] += 1
        domains[message.domain, day] += 1
        last[first.box] = (first.at, first.message)


@given(waiting(), boxes(), st.integers(1, 40), st.integers(1, 30), st.integers(1, 4))
def test_a_beginning_planned_from_what_is_due_first_is_the_beginning_of_the_whole_plan(
    queue: list[Waiting], senders: list[SendingBox], read: int, most: int, cap: int
) -> None:
    rules, until = SendRules(HOURS, cap), NOW + timedelta(days=20)
    first = sorted(queue, key=lambda item: (item.due, item.id))
    unread = {(item.zone, item.country, item.box) for item in first[read:]}
    whole = plan(queue, senders, rules, SentSoFar(), NOW, until, most)
    try:
        found = plan(first[:read], senders, rules, SentSoFar(), NOW, until, most, unread)
    except TooFewRead:
        assert unread, "all of it was read"
        return
    assert found == whole


def test_a_new_mailbox_is_warmed_up() -> None:
    """10 on the first day, 5 more each day, until its own limit."""
    box = SendingBox(1, 40, 1, 0, warm_up_from=date(2026, 11, 2))
    assert [box.limit_on(date(2026, 11, day)) for day in (2, 3, 4, 8, 9)] == [10, 15, 20, 40, 40]
    start = datetime(2026, 11, 2, 0, tzinfo=UTC)
    queue = [Waiting(i, f"d{i}.example", start, "UTC") for i in range(1, 100)]
    found = plan(queue, [box], SendRules(HOURS), SentSoFar(), start, start + timedelta(days=40))
    assert list(Counter(item.at.date().day for item in found).items())[:3] == [(2, 10), (3, 15), (4, 20)]


@pytest.mark.parametrize(
    ("zone", "country", "due", "goes"),
    [
        ("Europe/Berlin", "DE", "2026-12-24T16:30:00+00:00", "2026-12-28T08:00:00+00:00"),  # Christmas, then a weekend
        ("Australia/Sydney", "AU", "2026-01-25T23:00:00+00:00", "2026-01-26T22:00:00+00:00"),  # Australia Day is a Monday
        ("America/New_York", "US", "2026-11-25T23:00:00+00:00", "2026-11-27T14:00:00+00:00"),  # Thanksgiving
        ("Europe/Berlin", "", "2026-12-25T10:00:00+00:00", "2026-12-25T10:00:00+00:00"),  # no country, no holidays
        ("Europe/London", "GB", "2026-03-29T12:00:00+00:00", "2026-03-30T08:00:00+00:00"),  # clocks went forward
    ],
)  # fmt: skip
def test_hours_and_holidays_of_the_receiver(zone: str, country: str, due: str, goes: str) -> None:
    """Public holidays as governments publish them (checked by hand against the calendars of 2026)."""
    moment = datetime.fromisoformat(due)
    (found,) = plan(
        [Waiting(1, "a.example", moment, zone, country)],
        [SendingBox(1, 10)],
        SendRules(HOURS),
        SentSoFar(),
        moment,
        moment + timedelta(days=9),
    )
    assert found.at == datetime.fromisoformat(goes)
