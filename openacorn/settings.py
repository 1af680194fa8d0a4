"""The installation's settings: one file in the data folder, checked when read."""

import json
from pathlib import Path
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, IPvAnyAddress, ValidationError, model_validator

from openacorn import __version__
from openacorn.db.folder import make_private, write_private

SETTINGS = "settings.json"


class SettingsError(Exception):
    """The settings file cannot be used; the message names the field."""


class World(BaseModel):
    """Where the simulated coast's servers listen; only `*.example` names (RFC 2606) ever go there."""

    model_config = ConfigDict(extra="forbid")

    http_port: int
    https_port: int
    dns_port: int
    source_ports: dict[str, int]
    ca_file: str
    smtp_port: int = 25
    stands_in: tuple[str, ...] = ()
    """Hosts of others that the coast answers for while it is there."""


class SourceSettings(BaseModel):
    """Endpoint and key of a source. `pace_s`: least seconds between two requests. cost_per_row: paid only for rows found."""

    model_config = ConfigDict(extra="forbid")

    endpoint: str = ""
    key: str = ""
    pace_s: float = Field(default=0.1, ge=0)
    cost_per_request: float = Field(default=0.0, ge=0)
    cost_per_row: float = Field(default=0.0, ge=0)


class MailSettings(BaseModel):
    """The server that notices go out by; an empty host: none. With a user the connection is secured (STARTTLS)."""

    model_config = ConfigDict(extra="forbid")

    host: str = ""
    port: int = 25
    sender: str = "open-acorn@localhost"
    user: str = ""
    password: str = ""


class Settings(BaseModel):
    """Everything that differs between installations. `region`: ISO 3166 code in which national phone numbers are read."""

    model_config = ConfigDict(extra="forbid")

    agency: str = "Your agency"
    region: str | None = None
    currency: str = "AUD"
    locale: str = Field(default="", pattern=r"^([a-z]{2,3}(-[A-Za-z0-9]{2,8})*)?$")
    """How numbers and dates are written (BCP 47: "en-AU"); "": English as in the agency's country."""
    contact_address: str = ""
    public_address: str = Field(default="", pattern=r"^(https?://[^/\s]+/?)?$")
    """Where owners reach their pages from outside, by a proxy ("https://pages.agency.example"); "": nowhere."""
    owners_port: int | None = Field(default=None, ge=1, le=65535)
    """Port that such a proxy forwards to: nothing but owners' pages is there. None: the one after the application's own."""
    trusted_proxies: list[IPvAnyAddress] = Field(default_factory=list, max_length=20)
    """Addresses of proxies that are believed when they say for whom they ask (X-Forwarded-For)."""
    delivery_folders: list[str] = Field(default_factory=list, max_length=50)
    """Folders that exports may be delivered into, besides `deliveries` in the data folder."""
    trusted_hosts: list[Annotated[str, Field(pattern=r"^[\w.-]+(:\d{1,5})?$")]] = Field(
        default_factory=list, max_length=50
    )
    """Hosts of the user's own network that may be asked although their addresses are private: "maps.office.lan",
    "10.0.0.5:8080"; with a port only that one."""
    workers: int = Field(default=2, ge=1, le=16)
    sites_in_flight: int = Field(default=60, ge=1, le=400)
    request_seconds: float = Field(default=10.0, ge=0.5, le=60)
    """How long a website may take to answer one request before it counts as not answering."""
    site_pages: int = Field(default=60, ge=5, le=1000)
    """Most pages of a site that is read whole."""
    browser_looks: int = Field(default=20, ge=0, le=1000)
    """Sites that a sweep opens in a browser once it has audited everybody, the best offers first; 0: none."""
    sources: dict[str, SourceSettings] = Field(default_factory=dict)
    mail: MailSettings = MailSettings()
    ground_map: str | None = None
    home: tuple[float, float] | None = None
    registry: str = ""
    """RDAP address that tells whether a domain is taken (RFC 9082), "" for none."""
    endings: list[str] = Field(default_factory=list, max_length=6)
    """Endings under which the agency registers names: com.au, com …; tried also when a site is looked for."""
    world: World | None = None

    @model_validator(mode="before")
    @classmethod
    def _first_shape(cls, raw: Any) -> Any:
        """Files of the first version named the one source there was."""
        if isinstance(raw, dict) and "listing_service" in raw:
            raw = dict(raw)
            raw["sources"] = {"listing_service": raw.pop("listing_service")} | raw.get("sources", {})
        return raw

    def source(self, source_id: str) -> SourceSettings:
        """A source's settings, empty ones if it has none."""
        return self.sources.get(source_id) or SourceSettings()

    @property
    def written_as(self) -> str:
        """The locale, BCP 47."""
        return self.locale or (f"en-{self.region}" if self.region else "en")

    @property
    def user_agent(self) -> str:
        """Says honestly who reads, and where to complain."""
        contact = f"; {self.contact_address}" if self.contact_address else ""
        return f"OpenAcorn/{__version__} (website audit for {self.agency}{contact})"


def load_settings(folder: Path) -> Settings:
    """Read `settings.json` in the data folder; defaults if there is none. Raises SettingsError naming what is wrong."""
    path = folder / SETTINGS
    if not path.exists():
        return Settings()
    try:
        return Settings.model_validate_json(path.read_text(encoding="utf-8-sig"))
    except UnicodeDecodeError:
        raise SettingsError(
            f"{path} is not UTF-8 text; save it in that encoding, or delete it to start from defaults"
        ) from None
    except OSError as error:
        raise SettingsError(f"{path} cannot be read: {error.strerror}") from None
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"]) or "the file"
        raise SettingsError(
            f"{path}: {where}: {first['msg']}; mend it or delete the file to start from defaults"
        ) from None


def save_settings(folder: Path, settings: Settings) -> None:
    """Write the settings file in one step, so that a kill cannot leave half of it."""
    make_private(folder)
    write_private(folder / SETTINGS, (json.dumps(settings.model_dump(mode="json"), indent=2) + "\n").encode())
