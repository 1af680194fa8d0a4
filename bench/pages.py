"""Owners' pages: how many a second are made from what is held, and how long a PDF takes.

Beside the PDF stands what the library takes for an empty page. The businesses are known by their listings alone: a page with a
site's findings on it takes about twice as long on paper.
"""

import statistics
import tempfile
import time
from pathlib import Path

from bench import Figures
from bench.coast import gather_coast
from openacorn.audit.reputation import ReputationAuditor
from openacorn.core.report.pdf import to_pdf
from openacorn.core.report.render import owners_page
from openacorn.db.database import Database
from openacorn.demo.agency import LETTERHEAD, demo_settings
from openacorn.outreach.owner_pages import PageOrder, create_page, queue_pages
from openacorn.outreach.store import owner_pages
from openacorn.runs.store import tasks
from openacorn.score.scorer import Scorer
from openacorn.sim.generate import make_world
from openacorn.sim.run import running_world

PAGES = 1000
AT_ONCE = 25
PDFS = 10


def _held(folder: Path) -> tuple[Database, int]:
    """A store with the coast in it, and a run that is to make PAGES pages."""
    world = folder / "world"
    make_world(world)
    with running_world(world) as servers:
        gather_coast(folder, world, demo_settings(folder, servers), ("listing_service", "map_data"))
    database = Database(folder / "acorn.db")
    with database.read() as conn:
        ids = [
            row[0] for row in conn.execute("SELECT id FROM business WHERE rejected = '' ORDER BY id LIMIT ?", (PAGES,))
        ]
    with database.write() as conn:
        ReputationAuditor(conn).judge(ids)
        Scorer(conn).score(ids)
        run = queue_pages(conn, ids, PageOrder(share=True))
    return database, run


def _make_all(database: Database, run: int) -> tuple[int, float]:
    """(pages made, seconds), as a run makes them."""
    started, made = time.perf_counter(), 0
    while True:
        with database.write() as conn:
            claimed = tasks.claim(conn, run, "page", AT_ONCE)
            create_page(conn, [unit.payload for unit in claimed])
            for unit in claimed:
                tasks.finish(conn, unit.id)
        if not claimed:
            return made, time.perf_counter() - started
        made += len(claimed)


def _timed(html: str) -> float:
    started = time.perf_counter()
    to_pdf(html)
    return time.perf_counter() - started


def bench_pages() -> tuple[Figures, str]:
    """Make the pages of a thousand businesses of the coast, and PDFs of some."""
    with tempfile.TemporaryDirectory() as name:
        database, run = _held(Path(name))
        made, seconds = _make_all(database, run)
        with database.read() as conn:
            ids = [row[0] for row in conn.execute("SELECT id FROM owner_page ORDER BY id LIMIT ?", (PDFS,))]
            pages = [owner_pages.get_page(conn, page) for page in ids]
        database.close()
    bodies = [owners_page(p.draft, LETTERHEAD, sections=p.sections, made_at=p.made_at, printed=True) for p in pages]
    first, rest = _timed(bodies[0]), [_timed(body) for body in bodies]
    bare = [_timed("<p>x</p>") for _ in range(PDFS)]
    figures: Figures = {
        "pages": made, "seconds": round(seconds, 2), "pages_per_s": round(made / seconds, 1),
        "page_kb": round(len(bodies[0].encode()) / 1000, 1), "pdf_first_s": round(first, 2),
        "pdf_median_s": round(statistics.median(rest), 2), "pdf_worst_s": round(max(rest), 2),
        "pdf_empty_page_s": round(statistics.median(bare), 3),
    }  # fmt: skip
    text = (
        f"{made:,} owners' pages in {seconds:.1f} s: {made / seconds:.0f} a second\n"
        f"PDF: first {first:.2f} s, then median {figures['pdf_median_s']:.2f} s, worst {figures['pdf_worst_s']:.2f} s "
        f"(an empty page: {figures['pdf_empty_page_s']:.3f} s)"
    )
    return figures, text
