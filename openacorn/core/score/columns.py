"""Scores of many businesses at once: the same formula over columns, so that a moved weight re-ranks everybody in one go."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from openacorn.core.audit.finding import Outcome
from openacorn.core.score.need import MIN_KNOWN_SHARE, severity_of
from openacorn.core.score.opportunity import ALPHA, BETA, GAMMA, MIN_NEED_FOR_OFFER
from openacorn.core.score.service import Gate, Rule, Service

OUTCOMES: tuple[Outcome, ...] = (Outcome.GAP, Outcome.PARTIAL, Outcome.OK, Outcome.NOT_APPLICABLE, Outcome.UNKNOWN)
CODE = {outcome: code for code, outcome in enumerate(OUTCOMES)}
NOT_ASKED = len(OUTCOMES)
"""Code of a check that was never answered: unknown to the formula."""

Codes = npt.NDArray[np.int8]
Numbers = npt.NDArray[np.float64]
Mask = npt.NDArray[np.bool_]


@dataclass(frozen=True, slots=True)
class ScoreColumns:
    """One service for everybody. exact: 0…100, NaN where there is no score; need 0…1; value in money, NaN where no score."""

    exact: Numbers
    need: Numbers
    value: Numbers

    def with_rows(self, size: int, at: npt.NDArray[np.int64], rows: "ScoreColumns") -> "ScoreColumns":
        """The same for `size` businesses, those at some positions as `rows` has them; these columns stay as they are."""
        found = []
        for held, new in ((self.exact, rows.exact), (self.need, rows.need), (self.value, rows.value)):
            column = np.full(size, np.nan)
            column[: len(held)] = held
            column[at] = new
            found.append(column)
        return ScoreColumns(*found)


def base_of(fit: Numbers, reach: Numbers) -> Numbers:
    """fit^β · reach^γ, what all services share; NaN where neither was ever computed."""
    return np.asarray(fit**BETA * reach**GAMMA, np.float64)


def _table(rule: Rule) -> tuple[list[float], list[float]]:
    """(severity by code, NaN where not known; 1 where the code counts as applicable, else 0)."""
    severities = [severity_of(rule, outcome) for outcome in OUTCOMES]
    severities.append(severities[CODE[Outcome.UNKNOWN]])
    applicable = [0.0 if outcome is Outcome.NOT_APPLICABLE else 1.0 for outcome in OUTCOMES] + [1.0]
    return [np.nan if severity is None else severity for severity in severities], applicable


def _passes(gate: Gate, codes: Codes) -> Mask:
    table = np.array([outcome in gate.passes for outcome in OUTCOMES] + [Outcome.UNKNOWN in gate.passes])
    table[CODE[Outcome.UNKNOWN]] = table[NOT_ASKED] = False  # unknown is held back, whatever passes
    return np.asarray(table[codes])


def score_columns(service: Service, codes_of: Callable[[str], Codes], base: Numbers) -> ScoreColumns:
    """Score everybody for one service.

    codes_of: check id → outcome codes (all NOT_ASKED for an unknown check). base: of `base_of`, same length.
    """
    size = len(base)
    total, known, need, lift = (np.zeros(size) for _ in range(4))
    for rule in service.rules:
        codes = codes_of(rule.check)
        severity, applicable = (np.array(table) for table in _table(rule))
        is_known = ~np.isnan(severity) & (applicable > 0)
        graded = np.where(is_known, severity, 0.0)
        total += (rule.weight * applicable)[codes]
        known += np.where(is_known, rule.weight, 0.0)[codes]
        need += (rule.weight * graded)[codes]
        if rule.decisive:
            np.maximum(lift, (graded * (applicable > 0))[codes], out=lift)
    with np.errstate(invalid="ignore", divide="ignore"):
        share = np.where(total > 0, known / total, 1.0)
        lifted = np.minimum(1.0, np.maximum(np.where(total > 0, need / total, 0.0), lift))
    scored = share >= MIN_KNOWN_SHARE
    for gate in service.gates:
        scored &= _passes(gate, codes_of(gate.check))
    exact = np.where(scored, 100 * lifted**ALPHA * base, np.nan)
    return ScoreColumns(exact, lifted, service.margin * service.odds.chances(exact))


@dataclass(frozen=True, slots=True)
class OfferColumns:
    """The best offer of everybody. service: index into the services, -1 for none; score and value NaN where none."""

    service: npt.NDArray[np.int16]
    exact: Numbers
    value: Numbers


def best_offers(services: Sequence[Service], scores: Sequence[ScoreColumns]) -> OfferColumns:
    """The highest expected value among services with need of at least .3; of equals the last by id, as for one business."""
    size = len(scores[0].exact) if scores else 0
    best = np.full(size, -1, np.int16)
    exact, value = np.full(size, np.nan), np.full(size, -np.inf)
    order = sorted(range(len(services)), key=lambda at: services[at].id)
    for at in order:
        found = scores[at]
        offered = ~np.isnan(found.value) & (found.need >= MIN_NEED_FOR_OFFER)
        better = offered & (found.value >= value)
        best[better], exact[better], value[better] = at, found.exact[better], found.value[better]
    return OfferColumns(best, exact, np.where(best >= 0, value, np.nan))
