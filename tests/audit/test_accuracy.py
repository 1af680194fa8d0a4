"""The shipped pipeline against the coast's truth. Floors may only rise."""

from pathlib import Path

import pytest

from bench.accuracy import measure_accuracy
from openacorn.settings import Settings
from openacorn.sim.generate import make_world
from openacorn.sim.run import running_world
from openacorn.sim.sources import REGISTRY

ANSWERED, RECALL, PRECISION = 0.95, 0.98, 0.98
PER_TRADE = 130
"""More than on the tests' coast: every check is to be decided 500 times."""


@pytest.mark.world
def test_every_check_keeps_its_floors(tmp_path: Path) -> None:
    make_world(tmp_path, per_trade=PER_TRADE)
    with running_world(tmp_path) as world:
        figures = measure_accuracy(tmp_path, Settings(region="AU", world=world, **REGISTRY))
    short = {
        check: row
        for check, row in figures.items()
        if row["answered"] < ANSWERED
        or row["recall"] < RECALL
        or row["precision"] < PRECISION
        or row["agree"] < PRECISION
    }
    assert short == {}
    assert sum(row["false_claims"] for row in figures.values()) == 0
    assert all(row["decidable"] > 500 for row in figures.values())
