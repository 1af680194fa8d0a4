"""Patterns that stand where a website has no picture yet; drawn in its colour."""

from collections.abc import Callable
from math import cos, pi, sin

_HEAD = '<svg class="mark" viewBox="0 0 400 {height}" preserveAspectRatio="xMidYMid slice" aria-hidden="true" focusable="false">'
_LINE = '<path d="{path}" fill="none" stroke="currentColor" stroke-width="{width}" opacity="{shade}"/>'
_SHAPE = '<path d="{path}" fill="currentColor" opacity="{shade}"/>'


def _waves() -> str:
    rows = (
        f"M-20 {y}" + "".join(f" q 25 {-14 - row * 2} 50 0 t 50 0" for _ in range(5))
        for row, y in enumerate(range(60, 300, 30))
    )
    return "".join(_LINE.format(path=path, width=2 + row % 3, shade=0.25 + row * 0.08) for row, path in enumerate(rows))


def _grid() -> str:
    return "".join(
        _LINE.format(path=f"M{x} 0V300M0 {x}H400", width=6 if x % 100 else 14, shade=0.3) for x in range(0, 401, 50)
    )


def _rings() -> str:
    ring = (
        '<circle cx="200" cy="160" r="{r}" fill="none" stroke="currentColor" stroke-width="8" opacity="{shade:.2f}"/>'
    )
    return "".join(ring.format(r=r, shade=0.7 - r / 260) for r in range(20, 160, 24))


def _dots() -> str:
    return "".join(
        f'<circle cx="{x}" cy="{y}" r="{3 + (x * y // 40) % 9}" fill="currentColor" opacity=".45"/>'
        for x in range(20, 400, 40)
        for y in range(20, 300, 40)
    )


def _arches() -> str:
    return "".join(
        _LINE.format(path=f"M{x} 300V{150 + (x // 80 % 2) * 40}a36 36 0 0 1 72 0V300", width=3, shade=0.6)
        for x in range(4, 400, 80)
    )


def _threads() -> str:
    return "".join(
        _LINE.format(path=f"M0 {y}C120 {y - 60} 260 {y + 80} 400 {y - 20}", width=1.5, shade=0.6)
        for y in range(20, 300, 16)
    )


def _stripes() -> str:
    return "".join(_SHAPE.format(path=f"M{x} 0h26L{x - 54} 300h-26z", shade=0.3) for x in range(0, 500, 60))


def _lines() -> str:
    return "".join(_LINE.format(path=f"M40 {y}H360", width=1, shade=0.6) for y in range(40, 280, 20))


def _leaves() -> str:
    leaf = []
    for at in range(12):
        x, y = 200 + cos(at * pi / 6) * 110, 150 + sin(at * pi / 6) * 90
        leaf.append(f'<ellipse cx="{x:.0f}" cy="{y:.0f}" rx="46" ry="15" transform="rotate({at * 30} {x:.0f} {y:.0f})" '
                    f'fill="currentColor" opacity=".35"/>')  # fmt: skip
    return "".join(leaf)


def _blocks() -> str:
    return "".join(
        _SHAPE.format(path=f"M{x} {y}h70v50h-70z", shade=0.2 + ((x + y) // 60 % 3) * 0.2)
        for x in range(0, 400, 80)
        for y in range(0, 300, 60)
    )


def _stars() -> str:
    return "".join(
        f'<circle cx="{(at * 97) % 400}" cy="{(at * 61) % 280 + 10}" r="{1 + at % 3}" fill="currentColor"/>'
        for at in range(60)
    ) + _LINE.format(path="M0 240Q200 190 400 240", width=1, shade=0.8)


MARKS: dict[str, Callable[[], str]] = {
    "waves": _waves, "grid": _grid, "rings": _rings, "dots": _dots, "arches": _arches, "threads": _threads, "stripes": _stripes,
    "lines": _lines, "leaves": _leaves, "blocks": _blocks, "stars": _stars,
}  # fmt: skip


def mark_of(name: str) -> str:
    """A pattern as SVG."""
    return f"{_HEAD.format(height=300)}{MARKS[name]()}</svg>"
