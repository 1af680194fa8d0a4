"""Python's collector of garbage, set for programs that hold much: its own settings are for those that hold little."""

import gc

COLLECT_AFTER = 20_000
"""New objects after which the youngest are looked through (Python: 700). A page has thousands, a file hundreds of thousands."""


def collect_seldom() -> None:
    """Look for garbage less often, in this process and its forks."""
    gc.set_threshold(COLLECT_AFTER, *gc.get_threshold()[1:])


def keep_for_good() -> None:
    """Everything that is in memory by now stays; the collector passes it over, and holds nobody up by looking through it."""
    gc.collect()
    gc.freeze()
