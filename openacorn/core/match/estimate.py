"""Weights re-estimated from the listings themselves, where there are enough of them.

Expectation–maximisation for the Fellegi–Sunter mixture (W. E. Winkler, "Using the EM Algorithm for Weight Computation in
the Fellegi–Sunter Model of Record Linkage", 1988), over counted patterns of levels. The shipped model counts as a number
of imagined pairs, so that a level that hardly occurs keeps a sane weight; pairs that a rule holds back stay unlike.
"""

import numpy as np

from openacorn.core.match.compare import LEVELS, SILENT, Bytes, Floats, Ints
from openacorn.core.match.weights import ASK_AT, SHIPPED, Levels, Model, held_back, probability

LEAST_LISTINGS = 4_000
"""Below this the shipped weights are kept: too few doubles to learn from."""

IMAGINED = 400.0
"""Pairs that the shipped model counts for."""

ROUNDS, SETTLED = 30, 1e-4


def _patterns(levels: Levels) -> tuple[dict[str, Bytes], Ints]:
    """(levels of each distinct pattern, how often it occurs)."""
    code = np.zeros(len(levels["name"]), np.int64)
    for field, names in LEVELS.items():
        code = code * (len(names) + 1) + (levels[field] + 1)
    _, first, counts = np.unique(code, return_index=True, return_counts=True)
    return {field: levels[field][first] for field in LEVELS}, counts


def estimate(levels: Levels, listings: int) -> Model:
    """Return the model that fits these pairs, or the shipped one for fewer than LEAST_LISTINGS `listings`."""
    if listings < LEAST_LISTINGS or not len(levels["name"]):
        return SHIPPED
    patterns, counts = _patterns(levels)
    free = held_back(patterns) >= ASK_AT
    model = SHIPPED
    for _ in range(ROUNDS):
        chance = np.where(free, probability(patterns, model), 0.0)
        after = _maximise(patterns, counts, chance)
        change = max(abs(x - y) for field in LEVELS for x, y in zip(after.m[field], model.m[field], strict=True))
        model = after
        if change < SETTLED:
            break
    return model


def _maximise(patterns: Levels, counts: Ints, chance: Floats) -> Model:
    m: dict[str, tuple[float, ...]] = {}
    u: dict[str, tuple[float, ...]] = {}
    for field, names in LEVELS.items():
        known = patterns[field] != SILENT
        for table, weight, shipped in ((m, counts * chance, SHIPPED.m), (u, counts * (1 - chance), SHIPPED.u)):
            seen = np.bincount(patterns[field][known], weights=weight[known], minlength=len(names))
            share = (seen + IMAGINED * np.array(shipped[field])) / (seen.sum() + IMAGINED)
            table[field] = tuple(share.tolist())
    doubles = float((counts * chance).sum())
    prior = (doubles + IMAGINED * SHIPPED.prior) / (float(counts.sum()) + IMAGINED)
    return Model(m, u, prior)
