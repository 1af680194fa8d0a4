"""Where the sources of this installation are reached, on which terms, and what they are called."""

import contextlib
import sqlite3
from dataclasses import replace
from pathlib import Path

from openacorn.business.store import own_trades
from openacorn.core.gather.api_recipe import DEFAULT_CAP
from openacorn.db import secrets
from openacorn.errors import NotFound
from openacorn.gather.sources._source import (
    Endpoint,
    Source,
    SourceFailure,
    all_sources,
    service_endpoint,
    source_of,
)
from openacorn.gather.store import imports, recipes
from openacorn.settings import Settings, SourceSettings

DIRECTORY, API = "directory:", "api:"
"""How the ids of sources begin that are read by recipes."""


def _number(source_id: str) -> int:
    return int(source_id.partition(":")[2])


def source_in(conn: sqlite3.Connection, source_id: str) -> Source:
    """A source as it is set up here: an API asks by what its recipe has slots for, a directory may read each one's own page.

    One whose recipe was deleted is the bare connector, so that what it gathered can still be spoken of. Raises UnknownSource.
    """
    source = source_of(source_id)
    with contextlib.suppress(NotFound):
        if source_id.startswith(DIRECTORY):
            plan = recipes.get_recipe(conn, _number(source_id)).plan
            return replace(source, title=plan.title, each=plan.results or bool(plan.details))
        if source_id.startswith(API):
            kept = recipes.get_api(conn, _number(source_id))
            told = kept.recipe
            cap = told.cap or DEFAULT_CAP
            return replace(source, title=kept.title, by=told.by, cap=cap, page_size=told.page_size, ranked=told.ranked)
    return source


def terms_of(conn: sqlite3.Connection, settings: Settings, source_id: str) -> SourceSettings:
    """Pace and prices of a source."""
    with contextlib.suppress(NotFound):
        if source_id.startswith(API):
            api = recipes.get_api(conn, _number(source_id)).recipe
            return SourceSettings(
                endpoint=api.address,
                pace_s=api.pace_s,
                cost_per_request=api.cost_per_request,
                cost_per_row=api.cost_per_row,
            )
        if source_id.startswith(DIRECTORY):
            return SourceSettings(pace_s=recipes.get_recipe(conn, _number(source_id)).plan.pace_s)
    return settings.source(source_id)


def endpoint_of(conn: sqlite3.Connection, settings: Settings, source_id: str, folder: Path) -> Endpoint:
    """Where a source is reached; `folder`: of the data. Raises SourceFailure if it is not set up."""
    trades = own_trades.trades_there(conn)
    if source_id.startswith((DIRECTORY, API)):
        try:
            return _by_recipe(conn, settings, source_id, folder)
        except secrets.SealBroken as broken:
            raise SourceFailure(str(broken), "enter the log-in or key again in its recipe") from None
        except NotFound:
            raise SourceFailure(
                "its recipe was deleted", "take this source out of the plan, or make its recipe again"
            ) from None
    return service_endpoint(source_of(source_id), settings.source(source_id), trades)


def _by_recipe(conn: sqlite3.Connection, settings: Settings, source_id: str, folder: Path) -> Endpoint:
    """Where a directory or an API is reached. Raises NotFound, SealBroken."""
    trades, secret = own_trades.trades_there(conn), secrets.reveal(conn, folder, source_id)
    if source_id.startswith(API):
        api = recipes.get_api(conn, _number(source_id)).recipe
        return Endpoint(api.address, secret, api.pace_s, api=api, trades=trades, region=settings.region)
    plan = recipes.get_recipe(conn, _number(source_id)).plan
    return Endpoint(plan.address, secret, plan.pace_s, plan, trades=trades, region=settings.region)


def source_titles(conn: sqlite3.Connection) -> dict[str, str]:
    """Source id → its name for people, of connectors, directories, APIs and imported files."""
    titles = {source.id: source.title for source in all_sources().values()}
    titles |= {f"{DIRECTORY}{item.id}": item.title for item in recipes.list_recipes(conn)}
    titles |= {f"{API}{item.id}": item.title for item in recipes.list_apis(conn)}
    return titles | imports.titles(conn)


def title_of(conn: sqlite3.Connection, source_id: str) -> str:
    """A source's name for people; a source that no connector, recipe or file has any more is named by its id."""
    return source_titles(conn).get(source_id, source_id)
