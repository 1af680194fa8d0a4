"""What messages bring: shares with their intervals, and how likely one variant is better than another."""

import math
from collections.abc import Iterable
from dataclasses import dataclass, field
from enum import StrEnum

Z95 = 1.959964
"""Standard deviations of a normal distribution on either side of 95 % of it."""

ENOUGH = 30
"""Messages below which a share says too little (common practice: the normal approximation begins to hold)."""

PRIOR = (1.0, 19.0)
"""Beta prior of a share of replies: as if one of twenty had replied before (common practice for cold e-mail: about 5 %)."""


class By(StrEnum):
    """What distinguishes messages."""

    TEMPLATE = "template"
    SEQUENCE = "sequence"
    SERVICE = "service"
    MAILBOX = "mailbox"
    STEP = "step"
    HOUR = "hour"


@dataclass(frozen=True, slots=True)
class SentMessage:
    """A message that was sent, and its result. replied: somebody wrote back; declined: they did not want it; group: by what it is
    counted."""

    group: str
    bounced: bool = False
    page_opened: bool = False
    replied: bool = False
    declined: bool = False
    won: bool = False


@dataclass(frozen=True, slots=True)
class Share:
    """`count` of `of`, with the 95 % interval of the share (Wilson)."""

    count: int
    of: int
    low: float
    high: float


@dataclass(frozen=True, slots=True)
class WhatWorks:
    """One group of messages. enough: were there enough to say anything? better_than_rest: probability that its share of positive
    replies is higher than that of all others together, None where too few were sent to say."""

    group: str
    sent: int
    delivered: Share
    page_opened: Share
    replied: Share
    positive: Share
    won: Share
    enough: bool
    better_than_rest: float | None = field(default=None)


def wilson(count: int, of: int) -> Share:
    """A share with its 95 % interval (E. B. Wilson, "Probable inference", 1927); none sent: anything is possible."""
    if of == 0:
        return Share(0, 0, 0.0, 1.0)
    share, z2 = count / of, Z95 * Z95
    middle = (share + z2 / (2 * of)) / (1 + z2 / of)
    half = Z95 / (1 + z2 / of) * math.sqrt(share * (1 - share) / of + z2 / (4 * of * of))
    return Share(count, of, max(0.0, middle - half), min(1.0, middle + half))


def _log_beta(a: float, b: float) -> float:
    return math.lgamma(a) + math.lgamma(b) - math.lgamma(a + b)


def probability_better(
    one: tuple[int, int], other: tuple[int, int], prior: tuple[float, float] = PRIOR, steps: int = 4000
) -> float:
    """Probability that the share behind `one` (count, of) is higher than that behind `other`, both with a Beta prior.

    The densities are integrated over equal steps of the share: P = ∫ f(x) G(x) dx.
    """
    (a, b), (c, d) = ((prior[0] + count, prior[1] + of - count) for count, of in (one, other))
    total = below = 0.0
    norm_one, norm_other = _log_beta(a, b), _log_beta(c, d)
    for step in range(steps):
        x = (step + 0.5) / steps
        log_x, log_rest = math.log(x), math.log1p(-x)
        density = math.exp((c - 1) * log_x + (d - 1) * log_rest - norm_other) / steps
        total += math.exp((a - 1) * log_x + (b - 1) * log_rest - norm_one) / steps * (below + density / 2)
        below += density
    return min(1.0, max(0.0, total))


def what_works(messages: Iterable[SentMessage]) -> list[WhatWorks]:
    """Count messages by their group, the most sent first."""
    groups: dict[str, list[SentMessage]] = {}
    for message in messages:
        groups.setdefault(message.group, []).append(message)
    positive = {name: sum(m.replied and not m.declined for m in found) for name, found in groups.items()}
    all_sent, all_positive = sum(map(len, groups.values())), sum(positive.values())
    result = []
    for name, found in groups.items():
        sent, rest = len(found), all_sent - len(found)
        better = None
        if sent >= ENOUGH and rest >= ENOUGH:
            better = probability_better((positive[name], sent), (all_positive - positive[name], rest))
        result.append(WhatWorks(
            name, sent, wilson(sum(not m.bounced for m in found), sent), wilson(sum(m.page_opened for m in found), sent),
            wilson(sum(m.replied for m in found), sent), wilson(positive[name], sent), wilson(sum(m.won for m in found), sent),
            sent >= ENOUGH, better,
        ))  # fmt: skip
    return sorted(result, key=lambda item: (-item.sent, item.group))
