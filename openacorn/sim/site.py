"""What a simulated website is like: drawn once by the generator, rendered by the server, and known to the truth."""

from dataclasses import asdict, dataclass, field
from typing import Any


@dataclass(slots=True)
class Site:
    """One host. `transport`: how the connection goes; `look`: which page stands there; the rest are its features.

    owner_name, name, trade, town, street, phone (E.164) and email are those shown on the pages.
    """

    host: str
    name: str
    trade: str
    town: str
    street: str
    phone: str
    phone_style: int
    email: str
    owner_name: str
    transport: str = "ok"
    look: str = "modern"
    title: str = "ok"
    description: str = "ok"
    viewport: str = "ok"
    h1: int = 1
    images: int = 3
    images_bare: int = 0
    analytics: str = ""
    pixels: list[str] = field(default_factory=list)
    manager: bool = False
    consent: bool = False
    hidden_analytics: bool = False
    hidden_pixel: bool = False
    email_where: str = ""
    email_how: str = "link"
    phone_where: str = ""
    phone_how: str = "text"
    socials: list[str] = field(default_factory=list)
    share_buttons: bool = False
    schema: str = ""
    charset: str = "utf-8"
    broken_markup: bool = False
    redirect_to: str = ""
    listed_scheme: str = "https"
    forces_https: bool = True
    delay_s: float = 0.0
    css_kb: int = 12
    js_kb: int = 20
    image_kb: int = 14
    gzip: bool = True
    seed: int = 0
    hsts: bool = False
    mixed: bool = False
    cached: bool = False
    cert_soon: bool = False
    noindex: bool = False
    sitemap: str = ""  # "robots", "usual"
    fixed_width: bool = False
    address_shown: bool = True
    hours_where: str = ""  # "home", "contact"
    form_where: str = ""
    people_where: str = ""  # "home", "about"
    long_text: bool = False
    jargon: bool = False
    video: bool = False
    chat: bool = False
    recording: bool = False
    publisher: bool = False
    conversion: bool = False
    book_link: bool = False
    privacy_link: bool = False
    social_maker: bool = False
    schema_full: bool = False
    mx: bool = True
    spf: str = ""  # "hard", "soft", "neutral", "open", "two"
    dmarc: str = ""  # "reject", "none", "two"
    years_old: int = -1  # of the copyright line, -1: there is none
    spoken: str = "en"  # language of its texts, ISO 639-1
    stranger: bool = False  # a script of a company that nobody knows
    bundled: bool = False  # its tags stand in its own script
    blocked: bool = False  # its tag manager does not load
    log_in: bool = False  # forms that are no contact forms
    numbers: bool = False  # dates, years, prices and a company's number

    def as_json(self) -> dict[str, Any]:
        """For the world's files."""
        return asdict(self)


TLS_FAULTS = ("cert_expired", "cert_wrong_name", "cert_self_signed")
SILENT = ("nxdomain", "refused", "timeout", "redirect_loop", "error_404", "error_500", "forbidden", "robots")
"""Transports behind which no page can be read."""

PLACEHOLDERS = ("parked", "soon", "default")
