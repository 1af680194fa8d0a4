"""Report long steps on standard error: a bar on a terminal, plain lines elsewhere. Standard library only.

The set-up uses it before any package is installed.
"""

import shutil
import sys
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from typing import TextIO

REDRAW_S = 0.2
LINE_EVERY_S = 20.0
"""Without a terminal a step says so often that it goes on."""

BAR = 24


def bar(fraction: float | None, elapsed_s: float) -> str:
    """Return a bar of BAR cells: filled to `fraction`, or with a moving block while no fraction is known."""
    if fraction is None:
        at = int(elapsed_s / REDRAW_S) % BAR
        return "".join("━" if (cell - at) % BAR < 4 else "─" for cell in range(BAR))
    filled = round(BAR * min(1.0, max(0.0, fraction)))
    return "━" * filled + "─" * (BAR - filled)


class Step:
    """One step under way. Call `update` from any thread."""

    def __init__(self, text: str, out: TextIO) -> None:
        self._text, self._out = text, out
        self._terminal = out.isatty()
        self._started = time.monotonic()
        self._fraction: float | None = None
        self._detail = ""
        self._ended = threading.Event()
        if not self._terminal:
            self._line(f"{text} …")
        self._telling = threading.Thread(target=self._draw if self._terminal else self._write, daemon=True)
        self._telling.start()

    def update(self, fraction: float | None = None, detail: str = "") -> None:
        """Report how far the step is: a fraction of 1 if known, and a few words."""
        self._fraction, self._detail = fraction, detail

    def end(self, word: str) -> None:
        """Close the step with a last line: `word` and the seconds it took."""
        self._ended.set()
        self._telling.join()
        if self._terminal:
            self._out.write("\r" + " " * (shutil.get_terminal_size().columns - 1) + "\r")
        self._line(f"{self._text}: {f'{self._detail}, ' if self._detail else ''}{word} {self._elapsed:.0f} s")

    @property
    def _elapsed(self) -> float:
        return time.monotonic() - self._started

    def _line(self, text: str) -> None:
        self._out.write(f"  {text}\n")
        self._out.flush()

    def _write(self) -> None:
        while not self._ended.wait(LINE_EVERY_S):
            self._line(f"{self._text}: {self._detail or 'at work'}, {self._elapsed:.0f} s so far")

    def _draw(self) -> None:
        while not self._ended.wait(REDRAW_S):
            elapsed = self._elapsed
            text = f"  {self._text} {bar(self._fraction, elapsed)} {elapsed:.0f} s {self._detail}"
            width = shutil.get_terminal_size().columns - 1
            self._out.write("\r" + text[:width].ljust(width))
            self._out.flush()


@contextmanager
def step(text: str, out: TextIO | None = None) -> Iterator[Step]:
    """Show one step while the block runs."""
    shown = Step(text, out or sys.stderr)
    try:
        yield shown
    except BaseException:
        shown.end("stopped after")
        raise
    shown.end("done in")
