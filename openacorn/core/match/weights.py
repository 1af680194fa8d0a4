"""Fellegi–Sunter: how much each comparison says for or against two listings being one business.

I. P. Fellegi, A. B. Sunter, "A Theory for Record Linkage", JASA 64 (1969). The m and u below are ours: m from what
directories do to names, numbers and pins, u from how often unlike businesses in one block agree by chance. The fields
are not independent, so what they say together is bounded by RULES (shared offices, branches, trading names, moves).
"""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import lru_cache
from types import MappingProxyType

import numpy as np
import numpy.typing as npt

from openacorn.core.match.compare import LEVELS, Bytes, Floats

MERGE_AT, ASK_AT = 0.99, 0.5


@lru_cache(maxsize=64)
def _log_odds(m: tuple[float, ...], u: tuple[float, ...]) -> npt.NDArray[np.float64]:
    return np.array([*(math.log(own / by_chance) for own, by_chance in zip(m, u, strict=True)), 0.0])


@dataclass(frozen=True, slots=True)
class Model:
    """How likely each level is among doubles (m) and among unlike pairs (u), by field, and the share of doubles among pairs."""

    m: Mapping[str, tuple[float, ...]]
    u: Mapping[str, tuple[float, ...]]
    prior: float

    def weights(self, field: str) -> npt.NDArray[np.float64]:
        """Log-odds that each level of `field` adds; the last entry, reached by SILENT, is 0."""
        return _log_odds(tuple(self.m[field]), tuple(self.u[field]))


SHIPPED = Model(
    m=MappingProxyType(
        {
            "name": (0.60, 0.08, 0.16, 0.06, 0.06, 0.04),
            "phone": (0.86, 0.14),
            "email": (0.85, 0.15),
            "site": (0.93, 0.07),
            "street": (0.78, 0.10, 0.06, 0.06),
            "place": (0.68, 0.24, 0.06, 0.02),
            "category": (0.82, 0.12, 0.06),
        }
    ),
    u=MappingProxyType(
        {
            "name": (0.005, 0.02, 0.012, 0.10, 0.012, 0.851),
            "phone": (0.02, 0.98),
            "email": (0.01, 0.99),
            "site": (0.012, 0.988),
            "street": (0.02, 0.03, 0.07, 0.88),
            "place": (0.04, 0.12, 0.50, 0.34),
            "category": (0.30, 0.25, 0.45),
        }
    ),
    prior=0.08,
)
"""For pairs that meet in a block, where nothing better has been estimated."""

Mask = npt.NDArray[np.bool_]
Levels = Mapping[str, Bytes]


@lru_cache(maxsize=64)
def _among(field: str, names: tuple[str, ...]) -> Mask:
    """Level → is it one of the named? The last entry, reached by SILENT, says no."""
    return np.array([*(level in names for level in LEVELS[field]), False])


def _is(levels: Levels, field: str, *names: str) -> Mask:
    """Pairs whose `field` is at one of the named levels."""
    found: Mask = _among(field, names)[levels[field]]
    return found


def _elsewhere(levels: Levels) -> Mask:
    """Another house, and the pins do not say that it is the same spot."""
    return _is(levels, "street", "number", "other") & ~_is(levels, "place", "here")


def shared_office(levels: Levels) -> Mask:
    """Unlike names, and no site of their own in common: neighbours, or firms behind one switchboard."""
    return _is(levels, "name", "unlike") & ~_is(levels, "site", "same") & ~_is(levels, "email", "same")


def trading_name(levels: Levels) -> Mask:
    """Unlike names, but the same phone in the same house in the same trade: one firm under two names, or two in an office."""
    return (
        shared_office(levels) & _is(levels, "phone", "same") & _is(levels, "street", "same") & _is(levels, "category", "same")
        & ~_is(levels, "site", "other")
    )  # fmt: skip


def another_branch(levels: Levels) -> Mask:
    """A like name at another address with a phone of its own, or none to compare: a branch of one chain."""
    return _elsewhere(levels) & ~_is(levels, "phone", "same")


def one_number_two_houses(levels: Levels) -> Mask:
    """Like names and one phone at two addresses: it moved, or branches share a switchboard."""
    return _elsewhere(levels) & _is(levels, "phone", "same")


def far_apart(levels: Levels) -> Mask:
    """Pins or postcodes far apart, and no phone in common."""
    return _is(levels, "place", "far") & ~_is(levels, "phone", "same")


@dataclass(frozen=True, slots=True)
class MatchRule:
    """Where `applies`, the probability is at most `most`."""

    applies: Callable[[Levels], Mask]
    most: float


RULES: tuple[MatchRule, ...] = (
    MatchRule(lambda levels: shared_office(levels) & ~trading_name(levels), 0.02),
    MatchRule(trading_name, 0.6),
    MatchRule(another_branch, 0.05),
    MatchRule(one_number_two_houses, 0.6),
    MatchRule(
        lambda levels: (
            one_number_two_houses(levels) & _is(levels, "place", "town", "far") & _is(levels, "site", "same")
        ),
        0.3,
    ),
    MatchRule(far_apart, 0.05),
)


def held_back(levels: Levels) -> Floats:
    """The most that RULES let each pair's probability be."""
    most: Floats = np.ones(len(levels["name"]))
    for rule in RULES:
        most = np.where(rule.applies(levels), np.minimum(most, rule.most), most)
    return most


def probability(levels: Levels, model: Model = SHIPPED) -> Floats:
    """Return the probability of each pair that both are one business."""
    odds: Floats = np.full(len(levels["name"]), math.log(model.prior / (1 - model.prior)))
    for field in LEVELS:
        odds += model.weights(field)[levels[field]]
    return np.minimum(1.0 / (1.0 + np.exp(-odds)), held_back(levels))
