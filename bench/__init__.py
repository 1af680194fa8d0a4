"""Figures beside peers and ceilings, in one run. Nothing here is asserted: timings are for people to read."""

from collections.abc import Callable
from typing import Any

Figures = dict[str, Any]


def _audit() -> tuple[Figures, str]:
    from bench.audit import bench_audit

    return bench_audit()


def _desk() -> tuple[Figures, str]:
    from bench.desk import bench_desk

    return bench_desk()


def _import() -> tuple[Figures, str]:
    from bench.importing import bench_import

    return bench_import()


def _match() -> tuple[Figures, str]:
    from bench.match import bench_match

    return bench_match()


def _memory() -> tuple[Figures, str]:
    from bench.memory import bench_memory

    return bench_memory()


def _messages() -> tuple[Figures, str]:
    from bench.messages import bench_messages

    return bench_messages()


def _opening() -> tuple[Figures, str]:
    from bench.opening import bench_opening

    return bench_opening()


def _pages() -> tuple[Figures, str]:
    from bench.pages import bench_pages

    return bench_pages()


def _plans() -> tuple[Figures, str]:
    from bench.plans import bench_plans

    return bench_plans()


def _profile() -> tuple[Figures, str]:
    from bench.profiling import bench_profile

    return bench_profile()


def _team() -> tuple[Figures, str]:
    from bench.team import bench_team

    return bench_team()


def _websites() -> tuple[Figures, str]:
    from bench.websites import bench_websites

    return bench_websites()


def _wild() -> tuple[Figures, str]:
    from bench.wild import bench_wild

    return bench_wild()


BENCHES: dict[str, Callable[[], tuple[Figures, str]]] = {
    "audit": _audit,
    "desk": _desk,
    "import": _import,
    "match": _match,
    "memory": _memory,
    "messages": _messages,
    "opening": _opening,
    "pages": _pages,
    "plans": _plans,
    "profile": _profile,
    "team": _team,
    "websites": _websites,
    "wild": _wild,
}
"""Name → bench; imported when asked for, as each brings its own peers."""
