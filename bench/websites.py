"""`./acorn bench websites`: new websites for a hundred businesses of the coast, and what our own audit finds on them.

Each website is made from the stored pages of an audited business, its pictures are taken over, and its files are served by the
standard library's server, as a host would, for the audit to visit.
"""

import asyncio
import contextlib
import statistics
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Iterator
from functools import partial
from http.server import SimpleHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any

from bench import Figures
from bench.coast import gather_coast
from openacorn.audit.auditor import audit_task
from openacorn.audit.pool import Pool
from openacorn.business.store import audits, businesses
from openacorn.clock import utc_now
from openacorn.core.starter.draft import PlacedPicture
from openacorn.db.database import Database
from openacorn.demo.agency import demo_settings
from openacorn.settings import Settings
from openacorn.sim.generate import make_world
from openacorn.sim.run import running_world
from openacorn.starter import pictures, sites
from openacorn.starter.pictures import PictureRefused
from openacorn.starter.store import site_pictures, starter_sites
from openacorn.terminal_audit import audit_all

SITES = 100
PER_TRADE = 40
PICTURES = 3
CLAIMS = frozenset({"gap", "partial"})


async def _audit(database: Database, settings: Settings) -> list[int]:
    """Audit businesses that have a website until SITES of them have stored pages; return their ids."""
    with database.read() as conn:
        rows = [
            dict(row)
            for row in conn.execute("SELECT * FROM business WHERE website != '' AND rejected = '' ORDER BY id")
        ]
    pool, found = Pool(settings), list[int]()
    try:
        for start in range(0, len(rows), pool.capacity):
            made = await asyncio.gather(*(pool.audit(audit_task(row)) for row in rows[start : start + pool.capacity]))
            with database.write() as conn:
                for audit in made:
                    audits.save_audit(conn, audit)
            found += [audit.business_id for audit in made if audit.pages]
            if len(found) >= SITES:
                break
    finally:
        await pool.close()
    return found[:SITES]


def _begin(database: Database, ids: list[int], settings: Settings) -> list[float]:
    """Begin a website for each; return the seconds that each took."""
    took = []
    for number in ids:
        begun = time.perf_counter()
        with database.write() as conn:
            sites.begin(conn, number, "bench", settings)
        took.append(time.perf_counter() - begun)
    return took


async def _take_pictures(database: Database, number: int, settings: Settings) -> int:
    """Take over the first pictures of a website's old one, with consent; return how many."""
    with database.read() as conn:
        waiting = pictures.candidates(conn, number)[:PICTURES]
    for found in waiting:
        with contextlib.suppress(PictureRefused):
            made = pictures.prepared(await pictures.fetch(settings, found.url))
            with database.write() as conn:
                pictures.keep(conn, number, found, made)
    with database.write() as conn:
        site_pictures.set_agreed(conn, number, utc_now(), "bench")
        site, stored = starter_sites.get_site(conn, number), site_pictures.list_pictures(conn, number)
        shown = [PlacedPicture(item.id, item.alt or f"A picture of {site.draft.facts.name}") for item in stored]
        sites.change(conn, number, site.draft.sections, shown, site.draft.theme, site.draft.colours, "", "bench")
    return len(stored)


class _Quiet(SimpleHTTPRequestHandler):
    def log_message(self, format: str, *args: Any) -> None:
        """Keep quiet."""


@contextlib.contextmanager
def _served(folders: list[Path]) -> Iterator[list[str]]:
    """Addresses of servers, one a folder."""
    servers = [ThreadingHTTPServer(("127.0.0.1", 0), partial(_Quiet, directory=str(folder))) for folder in folders]
    for server in servers:
        threading.Thread(target=server.serve_forever, daemon=True).start()
    try:
        yield [f"http://127.0.0.1:{server.server_address[1]}/" for server in servers]
    finally:
        for server in servers:
            server.shutdown()
            server.server_close()


def _files(database: Database, ids: list[int], folder: Path) -> tuple[list[Path], list[int], float]:
    """(a folder with the files of each, bytes of each without pictures, seconds of the making)."""
    folders, sizes = [], []
    begun = time.perf_counter()
    for number in ids:
        with database.read() as conn:
            files = sites.final_files(conn, starter_sites.get_site(conn, number))
        for path, body in files.items():
            (folder / str(number) / path).parent.mkdir(parents=True, exist_ok=True)
            (folder / str(number) / path).write_bytes(body)
        folders.append(folder / str(number))
        sizes.append(sum(len(body) for path, body in files.items() if not path.startswith("pictures/")))
    return folders, sizes, time.perf_counter() - begun


def make_websites(folder: Path) -> tuple[list[Path], Figures]:
    """Make them all below a folder; return where each is, and what that took."""
    make_world(folder / "world", per_trade=PER_TRADE)
    with running_world(folder / "world") as world:
        settings = demo_settings(folder, world)
        gather_coast(folder, folder / "world", settings, ("listing_service", "map_data"))
        database = Database(folder / "acorn.db")
        ids = asyncio.run(_audit(database, settings))
        took = _begin(database, ids, settings)

        async def take_all() -> list[int]:
            return [await _take_pictures(database, number, settings) for number in ids]

        begun = time.perf_counter()
        taken = asyncio.run(take_all())
        seconds = time.perf_counter() - begun
    folders, sizes, drawing = _files(database, ids, folder / "files")
    with database.read() as conn:
        asked = [len(starter_sites.get_site(conn, number).draft.questions) for number in ids]
        names = [businesses.get_business(conn, number)["name"] for number in ids]
    database.close()
    return folders, {
        "websites": len(ids), "first": names[0], "begin_ms": round(statistics.median(took) * 1000, 1),
        "begin_all_s": round(sum(took), 2), "files_all_s": round(drawing, 2), 
        "kb_median": round(statistics.median(sizes) / 1000, 1),
        "kb_most": round(max(sizes) / 1000, 1), "pictures": sum(taken), "picture_s": round(seconds / max(1, sum(taken)), 3),
        "questions_median": statistics.median(asked),
    }  # fmt: skip


def bench_websites() -> tuple[Figures, str]:
    """Times, sizes, and what our own audit finds on the new websites."""
    with tempfile.TemporaryDirectory() as name:
        folders, figures = make_websites(Path(name))
        with _served(folders) as urls:
            found = asyncio.run(audit_all(urls, Settings(), allow_private=True, shown=lambda _: None))
    gaps: Counter[str] = Counter()
    reasons: dict[str, str] = {}
    for result in found:
        for check, finding in result["outcome_by_check"].items():
            if finding["outcome"] in CLAIMS:
                gaps[check] += 1
                reasons.setdefault(check, finding["reason"])
    figures["gaps"] = dict(gaps.most_common())
    figures["load_s_most"] = max(result["timing"]["load_s"] or 0.0 for result in found)
    lines = [
        f"{figures['websites']} websites: begun in {figures['begin_all_s']} s ({figures['begin_ms']} ms each), files in "
        f"{figures['files_all_s']} s; {figures['kb_median']} kB each without pictures, {figures['kb_most']} kB at most",
        f"{figures['pictures']} pictures taken over, {figures['picture_s']} s each; {figures['questions_median']:g} questions each",
        f"modelled load {figures['load_s_most']:.2f} s at most; gaps that our audit finds, of {len(found)}:",
        *(f"  {count:4} {check}: {reasons[check]}" for check, count in gaps.most_common()),
    ]
    return figures, "\n".join(lines)
