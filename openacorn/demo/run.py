"""Start the demo: the world's servers, two months of the agency's work, the application."""

import json
import secrets as random
import shutil
from collections.abc import Callable
from contextlib import ExitStack
from pathlib import Path
from typing import Any

from openacorn import clock
from openacorn.clock import utc_now
from openacorn.db import secrets
from openacorn.db.database import Database
from openacorn.db.folder import DATABASE, LOCK, own_parts
from openacorn.demo.agency import DIRECTORY_PLAN, LETTERHEAD, coast_gateway, demo_settings, prepare_world
from openacorn.gather.store import places, recipes, regions
from openacorn.outreach.coast_clock import read_clock
from openacorn.outreach.store import owner_pages, texts
from openacorn.progress import Step, step
from openacorn.runs.store import sweeps
from openacorn.serving import Listening
from openacorn.settings import Settings, World
from openacorn.settings_file import save_settings
from openacorn.sim.month_before import make_month_before
from openacorn.sim.run import running_world, world_ports
from openacorn.sim.text_gateway import KEY as TEXTS_KEY

BEFORE = "world-before"
COAST = "http://127.0.0.1:"
"""Where the coast’s gateway listens, on another port at each start."""

GATEWAY_KEY = "text_gateway.key"
HURRIED = {"request_seconds": 2.0, "browser_looks": 0}
"""While the two months are played, sites that never answer are given up sooner, so that nobody waits for them."""


def _fill(folder: Path) -> bool:
    """Put the coast's places into the store; is there work of the agency's in it already?"""
    database = Database(folder / DATABASE)
    try:
        with database.write() as conn:
            gazetteer = json.loads((folder / "world" / "places.json").read_text(encoding="utf-8"))
            if places.place_named(conn, gazetteer[0]["name"]) is None:
                places.replace_places(conn, [*gazetteer, *places.world_places()])
            regions.fill_if_empty(conn)
            regions.add_regions(conn, json.loads((folder / "world" / "regions.json").read_text(encoding="utf-8")))
            if owner_pages.letterhead(conn) is None:
                owner_pages.put_letterhead(conn, LETTERHEAD)
            if not recipes.list_recipes(conn):
                recipes.insert_recipe(conn, DIRECTORY_PLAN, utc_now())
            return bool(sweeps.list_sweeps(conn))
    finally:
        database.close()


def _telling(shown: Step) -> Callable[[str, dict[str, Any]], None]:
    """Shows how far a run of the story is."""

    def tell(name: str, run: dict[str, Any]) -> None:
        progress = run["progress"]
        known = progress["audits_done"] + progress["audits_left"]
        shown.update(
            progress["audits_done"] / max(known, 1), f"{name}: {run['found']} found, {progress['audits_done']} audited"
        )

    return tell


def _live(folder: Path, world_folder: Path, stack: ExitStack) -> World:
    """Two months of the agency's work: the first on the coast as it was then. Return today's world, left running."""
    from openacorn.demo.desk import desk_on
    from openacorn.demo.story import Story

    before, ports = folder / BEFORE, world_ports()
    make_month_before(world_folder, before)
    with ExitStack() as then:
        world = then.enter_context(running_world(before, ports))
        settings = demo_settings(folder, world)
        with desk_on(folder, settings.model_copy(update=HURRIED)) as desk:
            with step("demo data: the agency's first month") as shown:
                Story(desk, folder, _telling(shown)).first_month()
            then.close()
            today = stack.enter_context(running_world(world_folder, ports))
            with step("demo data: the second month") as shown:
                Story(desk, folder, _telling(shown)).second_month()
    return today


def _rent_gateway(folder: Path, world: World) -> None:
    """Let texts go by the coast's gateway, where it listens now, unless the user has set up another."""
    database = Database(folder / DATABASE)
    try:
        with database.write() as conn:
            stored = texts.get_gateway(conn)
            if stored is None or stored.gateway.address.startswith(COAST):
                secrets.keep(conn, folder, GATEWAY_KEY, TEXTS_KEY, utc_now())
                texts.save_gateway(conn, coast_gateway(world), GATEWAY_KEY, random.token_urlsafe())
    finally:
        database.close()


def _load_application() -> None:
    """Import the application: a second's work, done while the world's servers start."""
    import openacorn.api.app  # noqa: F401


def _start_over(folder: Path) -> None:
    """Delete the demo's data, except the lock that this process holds."""
    for part in own_parts(folder):
        if part.is_dir():
            shutil.rmtree(part)
        elif part.name != LOCK:
            part.unlink()


def run_demo(folder: Path, port: int, *, reset: bool, serve: Callable[[Path, Settings, Listening, str], None]) -> None:
    """Start everything and run until it is stopped; every process started here ends with it."""
    if reset:
        _start_over(folder)
    with step("demo data: an invented coast with its businesses and websites"):
        world_folder = prepare_world(folder)
    with ExitStack() as stack:
        lived = _fill(folder)
        world = (
            stack.enter_context(running_world(world_folder, meanwhile=_load_application))
            if lived
            else _live(folder, world_folder, stack)
        )
        clock.set_back(read_clock(folder))
        _rent_gateway(folder, world)
        settings = demo_settings(folder, world)
        save_settings(folder, settings)
        serve(folder, settings, Listening(port), f"demo of {settings.agency}; Ctrl-C stops everything")
