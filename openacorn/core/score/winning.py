"""The chance of winning: a prior before there are outcomes of one's own, then what they say, held back by the prior."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

MIDDLE, STEP = 50.0, 10.0
"""Scores are counted from MIDDLE in steps of STEP: the intercept is then the chance of a middling opportunity."""

PRIOR_WIN, SLOPE = 0.02, 0.35
INTERCEPT_SPREAD, SLOPE_SPREAD = 1.0, 0.15
"""Standard deviations of the prior (ours): a few dozen outcomes of a service outweigh it, one or two do not."""

RIPE_DAYS = 60
"""Whoever was contacted so long ago and has not bought counts as lost."""

MOST_STEPS, CLOSE_ENOUGH = 50, 1e-9

Numbers = npt.NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Odds:
    """logit p = intercept + slope · (score − 50) / 10."""

    intercept: float = math.log(PRIOR_WIN / (1 - PRIOR_WIN))
    slope: float = SLOPE

    def chance(self, score: float) -> float:
        """Chance of winning at a score of 0…100."""
        return 1 / (1 + math.exp(-(self.intercept + self.slope * (score - MIDDLE) / STEP)))

    def chances(self, scores: Numbers) -> Numbers:
        """The same for many scores; NaN where there is none."""
        return np.asarray(1 / (1 + np.exp(-(self.intercept + self.slope * (scores - MIDDLE) / STEP))), np.float64)


PRIOR = Odds()


@dataclass(frozen=True, slots=True)
class Trial:
    """One business contacted for a service at a score (0…100), and whether it bought."""

    service: str
    score: float
    won: bool


def fit_odds(trials: Sequence[Trial]) -> dict[str, Odds]:
    """Service → odds, for the services with trials, and "" → those of a service without any.

    Penalised logistic regression, an intercept a service and one slope for all, each drawn towards the prior by a normal
    density: the posterior's mode, found by Newton's method (Gelman et al., Bayesian Data Analysis, 16.3). The target is
    concave and the penalty strict, so there is one mode and Newton finds it.
    """
    names = sorted({trial.service for trial in trials})
    design = np.zeros((len(trials), len(names) + 1))
    for row, trial in enumerate(trials):
        design[row, names.index(trial.service)] = 1.0
        design[row, -1] = (trial.score - MIDDLE) / STEP
    won = np.array([trial.won for trial in trials], np.float64)
    prior = np.array([PRIOR.intercept] * len(names) + [PRIOR.slope])
    weight = np.diag([INTERCEPT_SPREAD**-2] * len(names) + [SLOPE_SPREAD**-2])
    found = prior.copy()
    for _ in range(MOST_STEPS):
        chance = 1 / (1 + np.exp(-design @ found))
        slope = design.T @ (won - chance) - weight @ (found - prior)
        curve = design.T @ (design * (chance * (1 - chance))[:, None]) + weight
        step = np.linalg.solve(curve, slope)
        found += np.clip(step, -1.0, 1.0)  # a full step from far off could overshoot
        if np.abs(step).max() < CLOSE_ENOUGH:
            break
    steep = float(found[-1])
    return {"": Odds(PRIOR.intercept, steep)} | {
        name: Odds(float(at), steep) for name, at in zip(names, found[:-1], strict=True)
    }
