"""The coast's clock, kept from one start of the demo to the next."""

from datetime import timedelta
from pathlib import Path

from openacorn import clock

CLOCK = "world/clock"
"""File in the demo's data folder: seconds that its clock is behind."""


def read_clock(folder: Path) -> timedelta:
    """How far the coast's clock is behind this computer's; negative once more time was let pass there than here."""
    file = folder / CLOCK
    return timedelta(seconds=float(file.read_text())) if file.exists() else timedelta(0)


def keep_clock(folder: Path) -> None:
    """Remember how far the coast's clock is behind by now."""
    (folder / CLOCK).write_text(str(clock.behind().total_seconds()))
