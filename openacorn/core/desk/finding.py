"""One business among many by a few letters of its name or site; and by a name that is spelled a little differently."""

import re

import numpy as np
import numpy.typing as npt
from rapidfuzz import fuzz, process

from openacorn.core.desk.text_column import TextColumn, as_held
from openacorn.core.match.normalise import plain

Positions = npt.NDArray[np.int64]
ALL_READ = 20_000
"""So many names are compared with what was typed, each of them."""

READ_FOR_A_PIECE = 1_000
"""Where there are more names, so many of those that hold a piece of what was typed."""

SHORTEST_PIECE = 3
CLOSE_SPELLING = 80
"""Of 100, by rapidfuzz's weighted ratio."""


def pieces(text: str) -> list[str]:
    """Words and thirds of a text: with two wrong letters in it, one third at least is right."""
    wanted = text.lower().strip()
    third = -(-len(wanted) // 3)
    thirds = [wanted[start : start + third] for start in range(0, len(wanted), max(1, third))]
    found = dict.fromkeys([*re.findall(r"\w+", wanted), *thirds])
    return [piece for piece in found if len(piece.strip()) >= SHORTEST_PIECE]


def holding(names: TextColumn, sites: TextColumn, name: str, site: str, most: int) -> Positions:
    """Positions whose name holds `name` or whose site holds `site`: names that begin with it first, then by name."""
    by_name = names.some_holding(name, READ_FOR_A_PIECE).tolist()
    by_site = sites.some_holding(site, most).tolist() if site else []
    begins = as_held(name)

    def rank(position: int) -> tuple[bool, bytes]:
        text = names.text(position)
        return not text.startswith(begins), text

    found = sorted(dict.fromkeys([*by_name, *by_site]), key=rank)
    return np.array(found[:most], np.int64)


def close_in_spelling(names: TextColumn, text: str, there: npt.NDArray[np.bool_], most: int) -> Positions:
    """Positions (of those `there`) whose name is spelled much like a text, the closest first."""
    if len(there) <= ALL_READ:
        read = np.flatnonzero(there)
    else:
        some = [names.some_holding(piece, READ_FOR_A_PIECE) for piece in pieces(text)]
        read = np.unique(np.concatenate(some)) if some else np.zeros(0, np.int64)
        read = read[there[read]]
    known = {position: plain(names.text(position).decode()) for position in read.tolist()}
    close = process.extract(plain(text), known, scorer=fuzz.WRatio, limit=most, score_cutoff=CLOSE_SPELLING)
    return np.array([position for _, _, position in close], np.int64)
