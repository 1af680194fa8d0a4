"""Fuzz the page reader and all checks, guided by coverage: `python tools/fuzz_reader.py FOLDER [-max_total_time=600]`.
It needs PyPI atheris, which is not among the locked packages: not every machine has a build of it.

FOLDER keeps the inputs found so far, seeded with the tests' reference pages and one site of each kind of the coast. Stops
at the first input that raises, that a check crashes on, or that takes longer than SLOW_S; atheris writes it to a file.
"""

import sys
import time
from pathlib import Path

import atheris

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))
with atheris.instrument_imports(include=["openacorn.core.audit"]):
    from openacorn.core.audit.extract.decode import decode_html
    from openacorn.core.audit.extract.page import read_page
    from tests.core.audit.reading import AT, REFERENCES, URL, judged

SLOW_S = 4.0
"""Coverage counting slows Python several times; the tests bound the same work at a second."""

KINDS = ("text/html", "text/html; charset=utf-8", "text/html; charset=shift_jis", "", "text/html; charset=nonsense")


def one(data: bytes) -> None:
    """Read one page, and judge it as a site's home page."""
    started = time.perf_counter()
    kind, body = KINDS[data[0] % len(KINDS)] if data else "", data[1:]
    text, _ = decode_html(body, kind)
    read_page(text, URL, AT, "AU", len(body))
    for check, finding in judged(text).items():
        if finding.crashed:
            raise AssertionError(f"{check}: {finding.reason}")
    if time.perf_counter() - started > SLOW_S:
        raise AssertionError(f"took {time.perf_counter() - started:.1f} s")


def seed(folder: Path) -> None:
    """Put the first inputs there."""
    from openacorn.sim.generate import make_businesses
    from openacorn.sim.pages import render

    folder.mkdir(parents=True, exist_ok=True)
    pages = {str(path.relative_to(REFERENCES)): path.read_bytes() for path in REFERENCES.glob("*/dist/*.html")}
    _, sites = make_businesses(1, 20)
    for site in sites:
        pages.setdefault(f"{site.look} {site.transport}", render(site, "/") or b"")
    for number, body in enumerate(pages.values()):
        (folder / f"seed-{number:03d}").write_bytes(b"\0" + body)


if __name__ == "__main__":
    if not any(Path(sys.argv[1]).glob("*")):
        seed(Path(sys.argv[1]))
    atheris.Setup(sys.argv, one)
    atheris.Fuzz()
