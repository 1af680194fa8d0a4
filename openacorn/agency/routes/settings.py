"""Settings: shown with their meanings, changed, tried."""

import asyncio

from fastapi import APIRouter

from openacorn.agency import trials
from openacorn.agency.fields import sections, source_sections
from openacorn.agency.first_steps import follow_country
from openacorn.agency.health import examine
from openacorn.agency.schemas.settings import (
    HealthResponse,
    HomeRequest,
    HomeResponse,
    SettingsRequest,
    SettingsResponse,
    TrialRequest,
)
from openacorn.agency.trials import TrialResult
from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import DeskRoute
from openacorn.gather.sources._source import all_sources
from openacorn.match.country import read_phones_again
from openacorn.settings_file import SETTINGS, SettingRefused, change_settings, changed_settings

router = APIRouter(route_class=DeskRoute, tags=["settings"])


def _response(state: AppState) -> SettingsResponse:
    return SettingsResponse(
        sections=sections(state.settings), sources=source_sections(state.settings), file=str(state.folder / SETTINGS)
    )


@router.get("/settings")
def show_settings(state: AppDep) -> SettingsResponse:
    """All settings with names, meanings, units and values; keys and passwords only as kept or not."""
    return _response(state)


def _change(state: AppState, values: dict[str, object]) -> None:
    """Change settings; runs that begin from now on, and every screen, work by them."""
    before = state.settings.region
    change_settings(state.folder, state.settings, values)
    state.runs.renew_workers()
    if state.settings.region != before:
        read_phones_again(state.database, state.settings)


@router.put("/settings")
def save_settings(state: AppDep, asked: SettingsRequest) -> SettingsResponse:
    """Change some settings."""
    if "world" in {name.partition(".")[0] for name in asked.values}:
        raise SettingRefused("the demo's servers are no setting", "world")
    _change(state, asked.values)
    return _response(state)


@router.put("/settings/home")
def save_home(state: AppDep, asked: HomeRequest) -> HomeResponse:
    """Set country and home, and what follows from them."""
    _change(state, follow_country(asked.country.upper(), asked.lat, asked.lon))
    now = state.settings
    return HomeResponse(
        country=now.region or "", currency=now.currency, units=now.units, time_zone=now.time_zone, locale=now.written_as
    )


@router.post("/settings/trials")
async def try_setting(state: AppDep, asked: TrialRequest) -> TrialResult:
    """Make one small real request with the settings as they are, or as they would be."""
    settings = changed_settings(state.settings, asked.values)
    if asked.what == "mail":
        return await asyncio.to_thread(trials.try_mail, settings)
    if asked.what == "registry":
        return await trials.try_registry(settings)
    if asked.what == "writing":
        return await trials.try_writing(settings)
    if asked.what == "webhook":
        return await trials.try_webhook(settings, asked.address)
    if asked.what.partition(":")[0] not in all_sources():
        raise SettingRefused(f"there is nothing called {asked.what!r} to be tried", "what")
    return await trials.try_source(state.database, settings, asked.what)


@router.get("/health")
def health(state: AppDep) -> HealthResponse:
    """What the application needs of this machine, with remedies; takes some seconds."""
    return HealthResponse(parts=list(examine(state.folder)))
