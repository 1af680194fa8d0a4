"""The grid with everybody's scores, so that a moved weight re-ranks the whole table before anything is saved."""

from collections.abc import Callable, Iterable, Sequence

import numpy as np

from openacorn.core.desk.filters import STATES
from openacorn.core.desk.grid import Grid
from openacorn.core.score.columns import Mask, OfferColumns, ScoreColumns, base_of, best_offers, score_columns
from openacorn.core.score.service import Service

SCORES_KEPT = 30
"""Services, and versions of them that were tried, whose scores are kept: more than are offered at once."""


class ScoredGrid(Grid):
    """Scores are computed when asked for and kept until a row changes."""

    def __init__(self, checks: Sequence[str], search_pages: Callable[[str], Iterable[int]] = lambda _: ()) -> None:
        super().__init__(checks, search_pages)
        self.behind = False
        """Are changes under way that are not all in it yet?"""
        self._of_version = -1
        self._scores: dict[str, ScoreColumns] = {}
        self._base = np.zeros(0)

    def scorable(self) -> Mask:
        """Who has been scored at all."""
        return (self.ids >= 0) & ~np.isnan(self.numbers_of("fit"))

    def live(self) -> Mask:
        """Who is held: neither rejected nor held back by a standing."""
        held: Mask = self._states[: len(self)] == STATES.index("held")
        return (self.ids >= 0) & held

    def place_after(self, mask: Mask, sort: str, last: int, otherwise: int) -> int:
        """The offset after a business in the order of the selected; `otherwise` if it is not among them."""
        at = np.flatnonzero(self.in_order(mask, sort) == last)
        return int(at[0]) + 1 if len(at) else otherwise

    def scores(self, service: Service) -> ScoreColumns:
        """Everybody's score for a service; kept until a row changes."""
        if self._of_version != self.version:
            self._of_version, self._scores = self.version, {}
            self._base = base_of(self.numbers_of("fit"), self.numbers_of("reach"))
        key = repr(service)
        if key in self._scores:
            self._scores[key] = self._scores.pop(key)  # the latest used stands last
            return self._scores[key]
        while len(self._scores) >= SCORES_KEPT:
            del self._scores[next(iter(self._scores))]
        self._scores[key] = score_columns(service, self.codes_of, self._base)
        return self._scores[key]

    def offers(self, services: Sequence[Service]) -> OfferColumns:
        """Everybody's best offer."""
        return best_offers(services, [self.scores(service) for service in services])
