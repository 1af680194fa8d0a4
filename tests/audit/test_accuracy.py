"""The shipped pipeline against the coast's truth. Floors may only rise."""

import pytest

from bench.accuracy import measure_accuracy
from tests.conftest import Coast

ANSWERED, RECALL, PRECISION = 0.95, 0.98, 0.98


@pytest.mark.world
@pytest.mark.alone
def test_every_check_keeps_its_floors(coast: Coast) -> None:
    figures = measure_accuracy(
        coast.folder, coast.settings.model_copy(update={"request_seconds": 10.0, "sites_in_flight": 8})
    )
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
