"""How far win probabilities can be trusted: compared with the results of contacts."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from openacorn.core.score.winning import PRIOR, Trial, WinModel, fit

FOLDS = 5
EVENTS_A_PARAMETER = 10
"""Sales, and lost ones, for every number that is fitted, before a fit is trusted (Peduzzi et al. 1996, J. Clin. Epidemiol. 49)."""

BINS = 5


@dataclass(frozen=True, slots=True)
class Bin:
    """Contacts of about the same chance: the mean chance estimated, the share that bought, how many they are."""

    predicted: float
    bought: float
    count: int


@dataclass(frozen=True, slots=True)
class Calibration:
    """Brier scores (0 the best; .25 is a coin's) of the prior, and of the fit on contacts that it was not fitted to; None without
    contacts. needed: how many more sales, or lost ones, the rarer of the two, before the fit is trusted."""

    trials: int
    won: int
    prior_brier: float | None
    fitted_brier: float | None
    needed: int
    bins: tuple[Bin, ...]


def brier(chances: Sequence[float], won: Sequence[bool]) -> float:
    """Mean squared distance of the chances from what came (Brier 1950, Monthly Weather Review 78)."""
    return sum((chance - bought) ** 2 for chance, bought in zip(chances, won, strict=True)) / len(chances)


def unseen_chances(trials: Sequence[Trial], learn: Callable[[Sequence[Trial]], WinModel] = fit) -> list[float]:
    """Each trial's chance by a fit to the other folds: a fit judged by what it was fitted to flatters itself."""
    chances = [0.0] * len(trials)
    for fold in range(min(FOLDS, len(trials))):
        learnt = learn([trial for at, trial in enumerate(trials) if at % FOLDS != fold])
        for at in range(fold, len(trials), FOLDS):
            chances[at] = learnt.chance(trials[at])
    return chances


def reliability(chances: Sequence[float], won: Sequence[bool]) -> tuple[Bin, ...]:
    """Contacts in bins of about equal size, the least likely first."""
    order = sorted(range(len(chances)), key=lambda at: chances[at])
    size = max(1, -(-len(order) // BINS))
    pieces = [order[start : start + size] for start in range(0, len(order), size)]
    return tuple(
        Bin(
            sum(chances[at] for at in piece) / len(piece),
            sum(won[at] for at in piece) / len(piece),
            len(piece),
        )
        for piece in pieces
    )


def calibrate(trials: Sequence[Trial]) -> Calibration:
    """Hold prior and fit against the trials."""
    won = [trial.won for trial in trials]
    parameters = len({trial.service for trial in trials}) + len({trial.channel for trial in trials} - {""}) + 1
    needed = max(0, EVENTS_A_PARAMETER * parameters - min(sum(won), len(won) - sum(won)))
    if not trials:
        return Calibration(0, 0, None, None, needed, ())
    prior, fitted = [PRIOR.chance(trial.score) for trial in trials], unseen_chances(trials)
    return Calibration(len(won), sum(won), brier(prior, won), brier(fitted, won), needed, reliability(fitted, won))
