"""Settings, set-up, trials and health."""

from typing import Any

from pydantic import Field

from openacorn.agency.fields import SettingSection
from openacorn.agency.health import HealthPart
from openacorn.api.schemas import RequestModel, ResponseModel


class SettingsResponse(ResponseModel):
    """sections: of the installation; sources: one section each. file: where all of it is kept."""

    sections: list[SettingSection]
    sources: list[SettingSection]
    file: str


class SettingsRequest(RequestModel):
    """values: by dotted name, "mail.port"; what is not among them stays as it is."""

    values: dict[str, Any] = Field(max_length=500)


class TrialRequest(RequestModel):
    """what: "mail", "registry", "webhook", "writing" or a source's id. values: changes that are tried before they are saved."""

    what: str = Field(min_length=1, max_length=100)
    address: str = Field(default="", max_length=2000)
    values: dict[str, Any] = Field(default_factory=dict, max_length=500)


class HomeRequest(RequestModel):
    """The agency's country (ISO 3166) and its home, of which currency, language, units and time zone follow."""

    country: str = Field(min_length=2, max_length=2)
    lat: float | None = Field(default=None, ge=-90, le=90)
    lon: float | None = Field(default=None, ge=-180, le=180)


class HomeResponse(ResponseModel):
    """What followed from country and home."""

    country: str
    currency: str
    units: str
    time_zone: str
    locale: str


class HealthResponse(ResponseModel):
    """What the application needs of this machine, part by part."""

    parts: list[HealthPart]
