"""One weight of one of twelve services moved: everybody's best offer again, beside a dataframe library recomputing it."""

import statistics
import time
from dataclasses import replace
from typing import Any

import numpy as np
import polars as pl

from openacorn.core.audit.finding import Outcome
from openacorn.core.desk.scored_grid import ScoredGrid
from openacorn.core.score.columns import CODE, OUTCOMES, OfferColumns
from openacorn.core.score.need import MIN_KNOWN_SHARE, severity_of
from openacorn.core.score.opportunity import ALPHA, BETA, GAMMA, MIN_NEED_FOR_OFFER
from openacorn.core.score.service import Rule, Service, all_services
from openacorn.core.score.winning import PRIOR_WIN, SLOPE

ROUNDS = 5


class ColumnGrid(ScoredGrid):
    """A grid whose outcome columns are drawn at once: filling a million rows one by one is not what is measured here."""

    def fill(self, size: int, seed: int = 5) -> None:
        """Draw outcomes, fit and reach."""
        rng = np.random.default_rng(seed)
        self._grow(size)
        self._size = size
        self._ids[:size] = np.arange(1, size + 1)
        codes = [rng.choice(np.arange(6, dtype=np.int8), size, p=(0.2, 0.1, 0.35, 0.1, 0.2, 0.05)) for _ in self.checks]
        self._outcomes.put(np.arange(size), np.stack(codes, axis=1))
        for name in ("fit", "reach"):
            self._numbers[name][:size] = 0.05 + 0.9 * rng.random(size)
        self._forget()

    def as_frame(self) -> pl.DataFrame:
        """The same columns as a dataframe."""
        columns = {check: self.codes_of(check) for check in self.checks}
        return pl.DataFrame(columns | {name: self.numbers_of(name) for name in ("fit", "reach")})


def _graded(rule: Rule) -> tuple[pl.Expr, pl.Expr, pl.Expr]:
    """(severity or 0, is it known, does it apply) of one rule."""
    known = {
        CODE[o]: s for o in OUTCOMES if (s := severity_of(rule, o)) is not None and o is not Outcome.NOT_APPLICABLE
    }
    column = pl.col(rule.check)
    severity = column.replace_strict(known, default=0.0, return_dtype=pl.Float64)
    return severity, column.is_in(list(known)), column != CODE[Outcome.NOT_APPLICABLE]


def polars_exprs(service: Service) -> tuple[pl.Expr, pl.Expr, pl.Expr]:
    """(exact score, need, value) of a service, by the formula of DESIGN §4 written out again."""
    parts = [(rule, *_graded(rule)) for rule in service.rules]
    total = pl.sum_horizontal([applies.cast(pl.Float64) * rule.weight for rule, _, _, applies in parts])
    known = pl.sum_horizontal([is_known.cast(pl.Float64) * rule.weight for rule, _, is_known, _ in parts])
    need = pl.sum_horizontal([severity * rule.weight for rule, severity, _, _ in parts])
    lifts = [severity for rule, severity, _, _ in parts if rule.decisive]
    need = pl.when(total > 0).then(need / total).otherwise(0.0)
    lifted = pl.max_horizontal([need, *lifts]).clip(0.0, 1.0)
    share = pl.when(total > 0).then(known / total).otherwise(1.0)
    scored = share >= MIN_KNOWN_SHARE - 1e-12
    for gate in service.gates:
        passing = [CODE[outcome] for outcome in gate.passes if outcome is not Outcome.UNKNOWN]
        scored &= pl.col(gate.check).is_in(passing)
    score = 100 * lifted**ALPHA * pl.col("fit") ** BETA * pl.col("reach") ** GAMMA
    exact = pl.when(scored).then(score)
    odds = float(np.log(PRIOR_WIN / (1 - PRIOR_WIN)))
    value = service.margin / (1 + (-(odds + SLOPE * (exact - 50) / 10)).exp())
    return exact, lifted, value


def polars_offers(frame: pl.DataFrame, services: tuple[Service, ...]) -> pl.DataFrame:
    """Everybody's best offer (its index, -1 for none) and value."""
    values = []
    for at, service in enumerate(services):
        _, need, value = polars_exprs(service)
        values.append(pl.when(need >= MIN_NEED_FOR_OFFER).then(value).alias(f"v{at}"))
    found = frame.lazy().select(values).collect()
    names = found.columns
    best = pl.max_horizontal(names)
    index = pl.coalesce([pl.when(pl.col(name) == best).then(at) for at, name in reversed(list(enumerate(names)))])
    return found.lazy().select(index.fill_null(-1).alias("service"), best.alias("value")).collect()


def moved(services: tuple[Service, ...], weight: float) -> tuple[Service, ...]:
    """The services with the first one's first weight changed."""
    first = services[0]
    rules = (replace(first.rules[0], weight=weight), *first.rules[1:])
    return (replace(first, rules=rules), *services[1:])


def measure_rerank(size: int) -> dict[str, Any]:
    """Median milliseconds of each; both must agree before anything is timed."""
    services = all_services()
    checks = sorted({rule.check for service in services for rule in service.rules} | {"real_site"})
    grid = ColumnGrid(checks)
    grid.fill(size)
    frame = grid.as_frame()
    _agree(grid.offers(services), polars_offers(frame, services))
    times: dict[str, list[float]] = {"own": [], "polars": []}
    for number in range(ROUNDS):
        changed = moved(services, 3.0 + number)
        for kind in times:
            started = time.perf_counter()
            if kind == "own":
                grid.offers(changed)
            else:
                polars_offers(frame, changed)
            times[kind].append((time.perf_counter() - started) * 1000)
    middle = {kind: statistics.median(found) for kind, found in times.items()}
    return {
        "services": len(services), "own": round(middle["own"], 2), "polars": round(middle["polars"], 2),
        "times": round(middle["polars"] / middle["own"], 2),
    }  # fmt: skip


def _agree(own: OfferColumns, theirs: pl.DataFrame) -> None:
    value = theirs["value"].to_numpy()
    if not np.allclose(own.value, value, equal_nan=True):
        raise AssertionError("the contenders disagree on the values of the best offers")
