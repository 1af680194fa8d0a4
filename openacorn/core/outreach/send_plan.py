"""What goes when, by which mailbox: limits a day, warm-up, gaps, caps a domain, and the hours of who receives it.

Pure and repeatable: the same queue gives the same plan, so that what a screen shows is what the sender does.
"""

import heapq
import zlib
from collections import Counter, defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, time, timedelta

from openacorn.core.outreach.working_hours import Hours, next_open, zone_of

WARM_UP_FIRST, WARM_UP_MORE = 10, 5
"""Messages on the first day of a new mailbox, and so many more each day after (common practice)."""


@dataclass(frozen=True, slots=True)
class SendingBox:
    """A mailbox as the plan sees it. daily_limit: messages a day; gap_s: least seconds between two; jitter_s: up to so many
    more, by chance of the message; warm_up_from: the day on which it began to send, None if it is warm."""

    id: int
    daily_limit: int
    gap_s: int = 180
    jitter_s: int = 120
    warm_up_from: date | None = None

    def limit_on(self, day: date) -> int:
        """How many may go on a day."""
        if self.warm_up_from is None:
            return self.daily_limit
        grown = WARM_UP_FIRST + WARM_UP_MORE * max(0, (day - self.warm_up_from).days)
        return min(self.daily_limit, grown)

    def gap_after(self, message: int) -> timedelta:
        """How long the box rests after a message: always the same for the same one."""
        more = zlib.crc32(f"{self.id}:{message}".encode()) % (self.jitter_s + 1)
        return timedelta(seconds=self.gap_s + more)


@dataclass(frozen=True, slots=True)
class Waiting:
    """A message that may go. domain: of its address; due: earliest moment (UTC); zone, country: of who receives it,
    zone "" for a message that may go at any hour; box: by which mailbox it must go, as it continues a thread, 0 for any."""

    id: int
    domain: str
    due: datetime
    zone: str
    country: str = ""
    box: int = 0


@dataclass(frozen=True, slots=True)
class SentSoFar:
    """What went before. days: (box, day) → messages; domains: (domain, day) → messages; last: box → its last (moment, message)."""

    days: Mapping[tuple[int, date], int] = field(default_factory=dict)
    domains: Mapping[tuple[str, date], int] = field(default_factory=dict)
    last: Mapping[int, tuple[datetime, int]] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Planned:
    """A message, the mailbox it goes by, and when (UTC)."""

    message: int
    box: int
    at: datetime


@dataclass(frozen=True, slots=True)
class SendRules:
    """What holds for all mailboxes. domain_cap: most messages a day to one domain; zone: of the agency, whose days are counted."""

    hours: Hours
    domain_cap: int = 20
    zone: str = "UTC"


Group = tuple[str, str, int]
"""(zone, country, box) of messages whose receivers keep the same hours and that go by the same boxes."""


class TooFewRead(Exception):
    """A message that was left unread could go before one that was read."""


class _Group:
    """Waiting messages whose receivers keep the same hours, and that go by the same boxes: per domain, in order of being due."""

    def __init__(self, key: Group, messages: Iterable[Waiting]) -> None:
        self.key = key
        self.zone, self.country, self.box = key
        by_domain: dict[str, list[Waiting]] = defaultdict(list)
        for message in messages:
            by_domain[message.domain].append(message)
        self._queues = {
            name: sorted(found, key=lambda m: (m.due, m.id), reverse=True) for name, found in by_domain.items()
        }
        self._heads = [(queue[-1].due, queue[-1].id, name) for name, queue in self._queues.items()]
        heapq.heapify(self._heads)
        self._full: list[str] = []
        self._span = (datetime.min.replace(tzinfo=UTC), datetime.min.replace(tzinfo=UTC))

    def opening(self, moment: datetime, hours: Hours) -> datetime:
        """The first moment from then on that is within hours."""
        if not self.zone:
            return moment
        opens, closes = self._span
        if not opens <= moment < closes:
            self._span = (opens, closes) = next_open(moment, self.zone, self.country, hours)
        return max(moment, opens)

    def set_aside(self, is_full: Mapping[str, bool]) -> None:
        """Leave out, for this day, domains that have had their share."""
        while self._heads and is_full[self._heads[0][2]]:
            self._full.append(heapq.heappop(self._heads)[2])

    def new_day(self) -> None:
        """Every domain's share begins again."""
        for name in self._full:
            heapq.heappush(self._heads, (self._queues[name][-1].due, self._queues[name][-1].id, name))
        self._full.clear()

    @property
    def waits_for_day(self) -> bool:
        return bool(self._full)

    @property
    def head(self) -> tuple[datetime, int, str] | None:
        """(due, id, domain) of the next message."""
        return self._heads[0] if self._heads else None

    def take(self) -> Waiting:
        """Take out the next message."""
        _, _, name = heapq.heappop(self._heads)
        queue = self._queues[name]
        message = queue.pop()
        if queue:
            heapq.heappush(self._heads, (queue[-1].due, queue[-1].id, name))
        return message


class _Full(dict[str, bool]):
    """Domain → has it had its share today?"""

    def __init__(self, counts: Counter[tuple[str, date]], day: date, cap: int) -> None:
        super().__init__()
        self._counts, self._day, self._cap = counts, day, cap

    def __missing__(self, domain: str) -> bool:
        return self._counts[domain, self._day] >= self._cap


class _Planner:
    def __init__(
        self, waiting: Iterable[Waiting], rules: SendRules, before: SentSoFar, unread: Collection[Group]
    ) -> None:
        grouped: dict[Group, list[Waiting]] = defaultdict(list)
        for message in waiting:
            grouped[message.zone, message.country, message.box].append(message)
        self._groups = [_Group(key, found) for key, found in sorted(grouped.items())]
        self._rules, self._zone = rules, zone_of(rules.zone)
        self._days, self._domains = Counter(before.days), Counter(before.domains)
        self._day: date | None = None
        self._unread = frozenset(unread)
        self._strange = self._unread - grouped.keys()

    def _begin(self, day: date) -> None:
        if day != self._day:
            self._day = day
            for group in self._groups:
                group.new_day()

    def _tomorrow(self, day: date) -> datetime:
        return datetime.combine(day + timedelta(days=1), time(), self._zone).astimezone(UTC)

    def next_for(self, box: SendingBox, moment: datetime) -> tuple[Waiting | None, datetime | None]:
        """(the message a box sends at a moment, None) or (None, when to look again; None if never)."""
        day = moment.astimezone(self._zone).date()
        self._begin(day)
        if self._days[box.id, day] >= box.limit_on(day):
            return None, self._tomorrow(day)
        best: _Group | None = None
        later: datetime | None = None
        full, dry = _Full(self._domains, day, self._rules.domain_cap), bool(self._strange)
        for group in self._groups:
            if group.box not in (0, box.id):
                continue
            group.set_aside(full)
            if group.waits_for_day:
                later = min(filter(None, (later, self._tomorrow(day))))
            if group.head is None:
                dry = dry or group.key in self._unread
                continue
            opens = group.opening(max(moment, group.head[0]), self._rules.hours)
            if opens > moment:
                later = min(filter(None, (later, opens)))
            elif best is None or best.head is None or group.head < best.head:
                best = group
        if best is None:
            if dry:
                raise TooFewRead
            return None, later
        message = best.take()
        self._days[box.id, day] += 1
        self._domains[message.domain, day] += 1
        return message, None


def plan(
    waiting: Iterable[Waiting], boxes: Sequence[SendingBox], rules: SendRules, before: SentSoFar, now: datetime,
    until: datetime, most: int = 0, unread: Collection[Group] = (),
) -> list[Planned]:  # fmt: skip
    """Plan what goes from `now` to `until` (UTC), in order of time; of all that the first `most`, 0 for all.

    What is not in it goes later, or has no mailbox. unread: groups that may have more messages than those in `waiting`, all of them
    due later, or as early and with a higher id. Raises TooFewRead where one of these could come into the plan.
    """
    planner, result = _Planner(waiting, rules, before, unread), list[Planned]()
    ready: list[tuple[datetime, int]] = []
    by_id = {box.id: box for box in boxes}
    for box in boxes:
        at, message = before.last.get(box.id, (None, 0))
        ready.append((now if at is None else max(now, at + box.gap_after(message)), box.id))
    heapq.heapify(ready)
    while ready and not 0 < most <= len(result):
        moment, number = heapq.heappop(ready)
        if moment > until:
            continue
        found, again = planner.next_for(by_id[number], moment)
        if found is not None:
            result.append(Planned(found.id, number, moment))
            heapq.heappush(ready, (moment + by_id[number].gap_after(found.id), number))
        elif again is not None:
            heapq.heappush(ready, (again, number))
    return result
