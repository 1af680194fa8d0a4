"""The installation's settings: their names, meanings, units and limits. A new setting is one field here."""

from typing import Annotated, Any, Literal
from zoneinfo import available_timezones

from pydantic import BaseModel, ConfigDict, Field, IPvAnyAddress, field_validator, model_validator

from openacorn import __version__

WEB_ADDRESS = r"^(https?://\S+)?$"
TILE_ADDRESS = r"^(https?://\S*\{z\}\S*)?$"
MONEY = "money"
"""The unit of a sum in the agency's currency."""

SECTIONS = {
    "agency": "Your agency",
    "place": "Country and home",
    "spending": "What sweeps may spend",
    "audits": "Audits",
    "domains": "Domains",
    "mail": "Mail server for notices",
    "writing": "Writing helper",
    "team": "Team",
    "people": "People’s data",
    "backups": "Backups",
    "map": "Map",
    "network": "Network and folders",
}
"""Section → its heading, in the order shown. A field without a section is not set on that page."""


def _setting(
    default: Any,
    title: str,
    meaning: str = "",
    *,
    section: str = "",
    unit: str = "",
    kind: str = "",
    secret: bool = False,
    restart: bool = False,
    **limits: Any,
) -> Any:
    """A field with its name and meaning for people. secret: never shown again, and sealed in the file; restart: needs one."""
    about: dict[str, Any] = {"section": section, "unit": unit, "kind": kind, "secret": secret, "restart": restart}
    return Field(default=default, title=title, description=meaning or None, json_schema_extra=about, **limits)


class World(BaseModel):
    """Where the simulated coast's servers listen; only `*.example` names (RFC 2606) ever go there."""

    model_config = ConfigDict(extra="forbid")

    http_port: int
    https_port: int
    dns_port: int
    source_ports: dict[str, int]
    ca_file: str
    smtp_port: int = 25
    mail_ports: dict[str, int] = {}
    """Where the post office takes submissions and keeps inboxes: "submission", "imap"."""
    agency_ports: dict[str, int] = {}
    """What an agency rents there: "writing" (a writing helper), "texts" (a gateway for text messages)."""
    stands_in: tuple[str, ...] = ()
    """Hosts of others that the coast answers for while it is there."""


class SourceSettings(BaseModel):
    """Where a source is reached, and on which terms."""

    model_config = ConfigDict(extra="forbid")

    endpoint: str = _setting("", "Address", "The web address of the service.", max_length=2000, pattern=WEB_ADDRESS)
    key: str = _setting("", "Key", "What the service gave you when you signed up.", max_length=2000, secret=True)
    pace_s: float = _setting(0.1, "Pace", "The least time between two requests.", ge=0, le=3600, unit="seconds")
    cost_per_request: float = _setting(0.0, "Price of a request", ge=0, unit=MONEY)
    cost_per_row: float = _setting(0.0, "Price of a result", "Where only what is found is paid for.", ge=0, unit=MONEY)


class MailSettings(BaseModel):
    """The server that notices go out by; an empty host: none. With a user the connection is secured (STARTTLS)."""

    model_config = ConfigDict(extra="forbid")

    host: str = _setting("", "Mail server", "The outgoing (SMTP) server, such as smtp.agency.example.", max_length=253)
    port: int = _setting(25, "Port", "587 for most providers.", ge=1, le=65535)
    sender: str = _setting("open-acorn@localhost", "Sender", "The address that notices come from.", max_length=254)
    user: str = _setting("", "User name", "With one, the connection is encrypted (STARTTLS).", max_length=254)
    password: str = _setting("", "Password", max_length=1000, secret=True)


class WritingSettings(BaseModel):
    """A server that words texts again; an empty address: none."""

    model_config = ConfigDict(extra="forbid")

    address: str = _setting(
        "", "Address", "A server that speaks the common chat-completions JSON, yours or another’s. Empty: no helper.",
        max_length=2000, pattern=WEB_ADDRESS,
    )  # fmt: skip
    model: str = _setting("", "Model", "As the server names it.", max_length=200)
    key: str = _setting("", "Key", "Empty for a server that asks for none.", max_length=2000, secret=True)


class Settings(BaseModel):
    """Everything that differs between installations; each field with its name and meaning for people, by section."""

    model_config = ConfigDict(extra="forbid")

    agency: str = _setting("Your agency", "Agency", section="agency", min_length=1, max_length=120)
    contact_address: str = _setting(
        "", "Contact e-mail", "Websites and services that we ask can reach you there. So do owners’ replies.",
        section="agency", max_length=254,
    )  # fmt: skip
    public_address: str = _setting(
        "", "Public address of owner’s pages", "Where owners open them, such as https://pages.agency.example. Empty: nowhere yet.",
        section="agency", pattern=r"^(https?://[^/\s]+/?)?$",
    )  # fmt: skip
    region: str | None = _setting(
        None,
        "Country",
        "National phone numbers are read in its format.",
        section="place",
        kind="country",
        pattern=r"^[A-Z]{2}$",
    )
    home: tuple[float, float] | None = _setting(
        None, "Home", "Latitude and longitude where maps and new sweeps begin.", section="place"
    )
    locale: str = _setting(
        "", "Numbers and dates as in", "A language tag such as en-AU. Empty: English as in your country.",
        section="place", pattern=r"^([a-z]{2,3}(-[A-Za-z0-9]{2,8})*)?$",
    )  # fmt: skip
    currency: str = _setting(
        "AUD", "Currency", "Three letters, such as AUD or EUR.", section="place", pattern=r"^[A-Z]{3}$"
    )
    time_zone: str = _setting(
        "", "Time zone", "Such as Australia/Melbourne; scheduled sweeps run by it. Empty: that of this computer.",
        section="place", max_length=64,
    )  # fmt: skip
    units: Literal["km", "mi"] = _setting("km", "Distances in", section="place")
    month_requests: int = _setting(
        0, "Most requests to sources in a month", "Sweeps stop there and say so. 0: no limit.",
        section="spending", ge=0, le=10_000_000,
    )  # fmt: skip
    month_cost: float = _setting(
        0.0,
        "Most money for sources in a month",
        "Sweeps stop there and say so. 0: no limit.",
        section="spending",
        unit=MONEY,
        ge=0,
    )
    browser_looks: int = _setting(
        20, "Websites opened in a browser in each sweep", "The best offers first, for pictures and measured load times. 0: none.",
        section="audits", ge=0, le=1000,
    )  # fmt: skip
    site_pages: int = _setting(60, "Most pages of a website that is read whole", section="audits", ge=5, le=1000)
    request_seconds: float = _setting(
        10.0,
        "Longest wait for a website",
        "After that it counts as not answering.",
        section="audits",
        unit="seconds",
        ge=0.5,
        le=60,
    )
    sites_in_flight: int = _setting(60, "Websites audited at once by one process", section="audits", ge=1, le=400)
    workers: int = _setting(2, "Audit processes", "One for each processor core.", section="audits", ge=1, le=16)
    cluster: str = _setting(
        "", "Other computers for audits", "A Dask scheduler, such as tcp://10.0.0.5:8786. Its workers then make all audits.",
        section="audits", restart=True, pattern=r"^((tcp|tls|ws|wss)://\S+:\d+)?$",
    )  # fmt: skip
    registry: str = _setting(
        "", "Domain registry", "An RDAP address that tells whether a domain is taken. Empty: domains are not looked up.",
        section="domains", pattern=WEB_ADDRESS,
    )  # fmt: skip
    endings: list[str] = _setting(
        [], "Endings you register names under", "Such as com.au and com. They are also tried when a website is looked for.",
        section="domains", max_length=6,
    )  # fmt: skip
    sources: dict[str, SourceSettings] = {}
    mail: MailSettings = _setting(MailSettings(), "Mail server", section="mail")
    writing: WritingSettings = _setting(WritingSettings(), "Writing helper", section="writing")
    ground_map: str | None = _setting(
        None, "Map of your own", "A GeoJSON file on this computer, drawn over the map of the world.", section="map"
    )
    map_tiles: str = _setting(
        "", "Map tiles", "An address with {z}, {x} and {y}; pictures of the map are fetched there. Empty: nothing is fetched.",
        section="map", pattern=TILE_ADDRESS,
    )  # fmt: skip
    map_attribution: str = _setting(
        "", "Credit for the map tiles", "What the service asks you to show.", section="map", max_length=300
    )
    trusted_hosts: list[Annotated[str, Field(pattern=r"^[\w.-]+(:\d{1,5})?$")]] = _setting(
        [], "Trusted hosts", "Hosts in your own network that may be asked, such as maps.office.lan or 10.0.0.5:8080.",
        section="network", max_length=50,
    )  # fmt: skip
    idle_minutes: int = _setting(
        720, "Signed out without use after", "A browser that nobody used for so long is signed out.",
        section="team", unit="minutes", ge=5, le=7 * 24 * 60,
    )  # fmt: skip
    retention_months: int = _setting(
        0, "Months until people’s data are removed", "Of businesses that nobody contacted, listed or sold to meanwhile. 0: never.",
        section="people", ge=0, le=240,
    )  # fmt: skip
    backup_every: Literal["never", "day", "week"] = _setting(
        "never", "A backup every", "Made while the application runs, tried out, and encrypted.", section="backups"
    )
    backup_folder: str = _setting(
        "",
        "Into the folder",
        "Best on another disk. Empty: “acorn-backups” in the data folder.",
        section="backups",
        max_length=500,
    )
    backup_keep: int = _setting(7, "Backups kept", "Older ones are deleted.", section="backups", ge=1, le=365)
    backup_key: str = _setting(
        "", "Lock of the backups", "The public half of their key. Make a key under Backups; only it opens them.",
        section="backups", pattern=r"^(age1[0-9a-z]{58})?$",
    )  # fmt: skip
    delivery_folders: list[str] = _setting(
        [], "Delivery folders", "Exports may be delivered into them, besides the one in the data folder.",
        section="network", max_length=50,
    )  # fmt: skip
    trusted_proxies: list[IPvAnyAddress] = _setting(
        [], "Trusted proxies", "Addresses of proxies that are believed when they say who they ask for (X-Forwarded-For).",
        section="network", max_length=20,
    )  # fmt: skip
    application_address: str = _setting(
        "", "Address of the application", "Where your team opens it from elsewhere, such as https://desk.agency.example. "
        "Empty: on this computer alone.",
        section="network", pattern=r"^(https?://[^/\s]+)?$",
    )  # fmt: skip
    owners_port: int | None = _setting(
        None, "Port of owner’s pages", "A proxy forwards to it. Empty: the one after the application’s own.",
        section="network", restart=True, ge=1, le=65535,
    )  # fmt: skip
    set_up: bool = False
    """Has somebody finished set-up, or left it?"""
    world: World | None = None

    @field_validator("time_zone")
    @classmethod
    def _known_zone(cls, name: str) -> str:
        if name and name not in available_timezones():
            raise ValueError(f"there is no time zone {name!r}")
        return name

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

    def take(self, changed: "Settings") -> None:
        """Become as `changed`: who holds these settings works by the new ones from now on."""
        for name in type(self).model_fields:
            setattr(self, name, getattr(changed, name))

    def public_url(self, path: str) -> str:
        """Where owners open a path that begins with "/"; "" while they can open none."""
        return self.public_address.rstrip("/") + path if self.public_address else ""

    @property
    def written_as(self) -> str:
        """The locale, BCP 47."""
        return self.locale or (f"en-{self.region}" if self.region else "en")

    @property
    def user_agent(self) -> str:
        """Says honestly who reads, and where to complain."""
        contact = f"; {self.contact_address}" if self.contact_address else ""
        return f"OpenAcorn/{__version__} (website audit for {self.agency}{contact})"
