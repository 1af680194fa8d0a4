"""The demo: the world, its servers, the agency's earlier sweep, the application."""

import asyncio
import json
import shutil
from collections.abc import Callable
from pathlib import Path

from openacorn.audit.pool import Pool
from openacorn.business.store import businesses
from openacorn.clock import utc_now
from openacorn.core.gather.recipe import FieldRule, Recipe
from openacorn.core.report.letterhead import Letterhead
from openacorn.db.database import Database
from openacorn.db.folder import DATABASE, LOCK, own_parts
from openacorn.gather.store import places, recipes, regions
from openacorn.outreach.store import owner_pages
from openacorn.pipeline.runs import Runs
from openacorn.progress import Step, step
from openacorn.runs.store import sweeps, tasks
from openacorn.runs.store.sweeps import Plan
from openacorn.settings import Settings, World
from openacorn.settings_file import save_settings
from openacorn.sim.coast import TOWNS
from openacorn.sim.directory_site import HOST as DIRECTORY_HOST
from openacorn.sim.generate import SEED, VERSION, make_world
from openacorn.sim.run import running_world
from openacorn.sim.sources import REGISTRY, world_sources

EARLIER = Plan(
    ("opticians", "vets", "florists"),
    tuple({"name": t.name, "lat": t.lat, "lon": t.lon, "radius_m": 7000.0} for t in TOWNS[:3]),
    ("listing_service", "map_data", "company_register", "people_directory"),
    place=" and ".join((", ".join(t.name for t in TOWNS[:2]), TOWNS[2].name)),
    facts=("website", "contacts", "mailboxes", "rank", "people", "company"),
)
LETTERHEAD = Letterhead(
    "Wrenfold Studio", "Ada Wren", "Websites that bring people through the door", "(03) 5550 1180", "hello@wrenfold.example",
    "wrenfold.example", "#2f5f73",
)  # fmt: skip
DIRECTORY_PLAN = Recipe(
    title="Tarrow Pages",
    address=f"http://{DIRECTORY_HOST}/search?what={{term}}&where={{place}}",
    item="ul.results > li.result",
    fields=(
        FieldRule("name", "h2, h3"),
        FieldRule("street", "[itemprop=streetAddress], .result-address"),
        FieldRule("town", "[itemprop=addressLocality], .result-town"),
        FieldRule("postcode", "[itemprop=postalCode], .result-postcode"),
        FieldRule("phone", "[itemprop=telephone], .tel"),
        FieldRule("email", "a[href^='mailto:']", "link"),
        FieldRule("website", "[itemprop=url], a.out", "link"),
    ),
    next="a.pager-next",
    limit=20,
    pace_s=0.03,
)
"""The agency's recipe for the coast's directory."""

EARLIER_NAME = "Three towns: opticians, vets, florists"
EARLIER_SITES = 350
"""About as many websites the first sweep audits; only to show how far it is."""


def demo_settings(folder: Path, world: World) -> Settings:
    """Wrenfold Studio of Port Ellery, with the coast's servers as its sources."""
    return Settings(
        agency="Wrenfold Studio",
        region="AU",
        contact_address="hello@wrenfold.example",
        sources=world_sources(world),
        ground_map=str(folder / "world" / "ground.geojson"),
        home=(TOWNS[0].lat, TOWNS[0].lon),
        set_up=True,
        world=world,
        **REGISTRY,
    )


def prepare_world(folder: Path) -> Path:
    """Make the world's files if they are not there; return their folder."""
    world, stamp = folder / "world", folder / "world" / "seed"
    made = f"{SEED} {VERSION}"
    if not stamp.exists() or stamp.read_text() != made:
        make_world(world)
        stamp.write_text(made)
    return world


async def sweep_earlier(folder: Path, settings: Settings, shown: Step) -> None:
    """Carry out the agency's earlier sweep with the shipped pipeline, unless the data holds a sweep already."""
    database = Database(folder / DATABASE)
    try:
        with database.write() as conn:
            gazetteer = json.loads((folder / "world" / "places.json").read_text(encoding="utf-8"))
            if places.place_named(conn, TOWNS[0].name) is None:
                places.replace_places(conn, [*gazetteer, *places.world_places()])
            regions.fill_if_empty(conn)
            regions.add_regions(conn, json.loads((folder / "world" / "regions.json").read_text(encoding="utf-8")))
            if owner_pages.letterhead(conn) is None:
                owner_pages.put_letterhead(conn, LETTERHEAD)
            if not recipes.list_recipes(conn):
                recipes.insert_recipe(conn, DIRECTORY_PLAN, utc_now())
            if sweeps.list_sweeps(conn):
                return
            sweep_id = sweeps.add_sweep(conn, EARLIER_NAME, sweeps.plan_to_json(EARLIER), utc_now())
        pool = Pool(settings)
        runs = Runs(database, settings, pool)
        try:
            run_id = runs.start(sweep_id)
            while True:
                await asyncio.sleep(0.3)
                with database.read() as conn:
                    state = sweeps.get_run(conn, run_id).state
                    found, _ = businesses.held_in_run(conn, run_id)
                    counts = tasks.counts(conn, run_id)
                audited = counts.get(("audit", "done"), 0)
                known = audited + counts.get(("audit", "ready"), 0) + counts.get(("audit", "doing"), 0)
                shown.update(
                    audited / max(known, EARLIER_SITES), f"{found} businesses found, {audited} websites audited"
                )
                if state != "running" or ("look", "ready") in counts:  # those go on once the application has started
                    return
        finally:
            await runs.close()
            await pool.close()
    finally:
        database.close()


def _start_over(folder: Path) -> None:
    """Delete the demo's data, but for the lock that this process holds."""
    for part in own_parts(folder):
        if part.is_dir():
            shutil.rmtree(part)
        elif part.name != LOCK:
            part.unlink()


def run_demo(folder: Path, port: int, *, reset: bool, serve: Callable[[Path, Settings, int, str], None]) -> None:
    """Start everything and run until told to stop; every process started here ends with it."""
    if reset:
        _start_over(folder)
    with step("demo data: an invented coast with its businesses and websites"):
        world_folder = prepare_world(folder)
    with running_world(world_folder) as world:
        settings = demo_settings(folder, world)
        save_settings(folder, settings)
        with step("demo data: a first sweep over three towns") as shown:
            asyncio.run(sweep_earlier(folder, settings, shown))
        serve(folder, settings, port, f"demo of {settings.agency}; Ctrl-C stops everything")
