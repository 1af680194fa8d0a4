"""The grid with everybody's scores, so that a moved weight re-ranks the whole table before anything is saved."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field

import numpy as np

from openacorn.core.desk.filters import STATES
from openacorn.core.desk.grid import Grid
from openacorn.core.desk.grid_columns import Positions
from openacorn.core.score.columns import Mask, OfferColumns, ScoreColumns, base_of, best_offers, score_columns
from openacorn.core.score.service import Service

MOST_SCORED_AGAIN = 20_000
"""More changed rows than this, and everybody is scored again: it takes no longer."""

SCORES_KEPT = 30
"""Services, and versions of them that were tried, whose scores are kept: more than are offered at once."""


@dataclass(slots=True)
class _Scored:
    columns: ScoreColumns
    written: list[Positions] = field(default_factory=list)
    """Rows that have changed since."""


class ScoredGrid(Grid):
    """Scores are computed when asked for and kept until a row changes."""

    def __init__(self, checks: Sequence[str], search_pages: Callable[[str], Iterable[int]] = lambda _: ()) -> None:
        super().__init__(checks, search_pages)
        self.behind = False
        """Are changes under way that are not all in it yet?"""
        self._scores: dict[str, _Scored] = {}

    def scorable(self) -> Mask:
        """Who has been scored at all."""
        return (self.ids >= 0) & ~np.isnan(self.numbers_of("fit"))

    def live(self) -> Mask:
        """Who is held: neither rejected nor marked as client, in conversation or refused."""
        held: Mask = self._states[: len(self)] == STATES.index("held")
        return (self.ids >= 0) & held

    def place_after(self, mask: Mask, sort: str, last: int, otherwise: int) -> int:
        """The offset after a business in the order of the selected; `otherwise` if it is not among them."""
        at = np.flatnonzero(self.in_order(mask, sort) == last)
        return int(at[0]) + 1 if len(at) else otherwise

    def scores(self, service: Service) -> ScoreColumns:
        """Everybody's score for a service; where few rows have changed since, they alone are scored again."""
        key = repr(service)
        scored = self._scores.pop(key, None)
        if scored is None:
            while len(self._scores) >= SCORES_KEPT:
                del self._scores[next(iter(self._scores))]
            base = base_of(self.numbers_of("fit"), self.numbers_of("reach"))
            scored = _Scored(score_columns(service, self.codes_of, base))
        elif scored.written:
            at = np.unique(np.concatenate(scored.written))
            base = base_of(self.numbers_of("fit")[at], self.numbers_of("reach")[at])
            again = score_columns(service, lambda check: self.codes_at(check, at), base)
            scored = _Scored(scored.columns.with_rows(len(self), at, again))
        self._scores[key] = scored  # the latest used stands last
        return scored.columns

    def _written(self, at: Positions) -> None:
        super()._written(at)
        for key, scored in list(self._scores.items()):
            scored.written.append(at)
            if sum(map(len, scored.written)) > MOST_SCORED_AGAIN:
                del self._scores[key]

    def offers(self, services: Sequence[Service]) -> OfferColumns:
        """Everybody's best offer."""
        return best_offers(services, [self.scores(service) for service in services])
