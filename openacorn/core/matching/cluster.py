"""From listings to businesses: compare within blocks, join what is surely one."""

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from itertools import combinations

from openacorn.core.matching.normalise import Record, block_keys
from openacorn.core.matching.weights import ASK_AT, MERGE_AT, probability

MAX_BLOCK = 60
"""Larger blocks are left out: a word so common tells nothing, and pairs grow with the square."""


@dataclass(frozen=True, slots=True)
class Clusters:
    """`groups`: record keys of each business, ascending. `doubtful`: pairs (a, b, probability) to ask the user about."""

    groups: tuple[tuple[int, ...], ...]
    doubtful: tuple[tuple[int, int, float], ...]


def candidate_pairs(records: Iterable[Record]) -> set[tuple[int, int]]:
    """Pairs of record keys that share a block, the smaller key first."""
    blocks: dict[str, list[int]] = defaultdict(list)
    for record in records:
        for key in block_keys(record):
            blocks[key].append(record.key)
    return {
        pair for members in blocks.values() if len(members) <= MAX_BLOCK for pair in combinations(sorted(members), 2)
    }


def cluster(records: Iterable[Record], *, apart: frozenset[tuple[int, int]] = frozenset()) -> Clusters:
    """Join records into businesses. `apart`: pairs that must not end in one group (what a user split).

    Surest pairs first, ties broken by key, so that the answer does not depend on the order of arrival.
    """
    by_key = {record.key: record for record in records}
    scored = [(probability(by_key[a], by_key[b]), a, b) for a, b in candidate_pairs(by_key.values())]
    scored.sort(key=lambda item: (-item[0], item[1], item[2]))
    group: dict[int, set[int]] = {key: {key} for key in by_key}
    doubtful = []
    for chance, a, b in scored:
        if group[a] is group[b] or chance < ASK_AT:
            continue
        if chance < MERGE_AT:
            doubtful.append((a, b, chance))
            continue
        if any((min(x, y), max(x, y)) in apart for x in group[a] for y in group[b]):
            continue
        merged = group[a] | group[b]
        for key in merged:
            group[key] = merged
    groups = sorted({tuple(sorted(members)) for members in group.values()})
    return Clusters(tuple(groups), tuple((a, b, p) for a, b, p in doubtful if group[a] is not group[b]))
