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
CHANNEL_SPREAD = 0.5
"""Standard deviations of the prior (ours): a few dozen outcomes of a service outweigh it, one or two do not. Channels are taken to
differ less than services."""

RIPE_DAYS = 60
"""A business contacted so long ago that has not bought counts as lost."""

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
    """One business contacted for a service at a score (0…100), and whether it bought.

    channel: of the first contact, "" if that is not known.
    """

    service: str
    score: float
    won: bool
    channel: str = ""


@dataclass(frozen=True, slots=True)
class WinModel:
    """services: service → odds, "" → those of a service without trials, for a middling channel; channels: channel → what it adds to
    the log odds."""

    services: dict[str, Odds]
    channels: dict[str, float]

    def chance(self, trial: Trial) -> float:
        """The chance that a trial was won."""
        odds = self.services.get(trial.service, self.services[""])
        shift = self.channels.get(trial.channel, 0.0)
        return Odds(odds.intercept + shift, odds.slope).chance(trial.score)


NOTHING_LEARNT = WinModel({"": PRIOR}, {})


def fit(trials: Sequence[Trial]) -> WinModel:
    """The model for the services and channels with trials.

    Penalised logistic regression: an intercept a service, one slope for all, and a shift a channel, each drawn towards the prior by
    a normal density: the posterior's mode, found by Newton's method (Gelman et al., Bayesian Data Analysis, 16.3). The target is
    concave and the penalty strict, so there is one mode and Newton finds it.
    """
    names = sorted({trial.service for trial in trials})
    channels = sorted({trial.channel for trial in trials} - {""})
    columns = {("service", name): at for at, name in enumerate(names)}
    slope_at = len(names)
    columns |= {("channel", name): at for at, name in enumerate(channels, slope_at + 1)}
    design = np.zeros((len(trials), len(columns) + 1))
    for row, trial in enumerate(trials):
        design[row, columns["service", trial.service]] = 1.0
        design[row, slope_at] = (trial.score - MIDDLE) / STEP
        if trial.channel:
            design[row, columns["channel", trial.channel]] = 1.0
    won = np.array([trial.won for trial in trials], np.float64)
    prior = np.array([PRIOR.intercept] * len(names) + [PRIOR.slope] + [0.0] * len(channels))
    spread = np.array([INTERCEPT_SPREAD] * len(names) + [SLOPE_SPREAD] + [CHANNEL_SPREAD] * len(channels))
    found = _mode(design, won, prior, np.diag(spread**-2))
    steep = float(found[slope_at])
    return WinModel(
        {"": Odds(PRIOR.intercept, steep)}
        | {name: Odds(float(found[columns["service", name]]), steep) for name in names},
        {name: float(found[columns["channel", name]]) for name in channels},
    )


def _mode(design: Numbers, won: Numbers, prior: Numbers, weight: Numbers) -> Numbers:
    found = prior.copy()
    for _ in range(MOST_STEPS):
        chance = 1 / (1 + np.exp(-design @ found))
        slope = design.T @ (won - chance) - weight @ (found - prior)
        curve = design.T @ (design * (chance * (1 - chance))[:, None]) + weight
        step = np.linalg.solve(curve, slope)
        found += np.clip(step, -1.0, 1.0)  # a full step from far off could overshoot
        if np.abs(step).max() < CLOSE_ENOUGH:
            break
    return found
