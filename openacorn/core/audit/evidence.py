"""What was gathered about one business's web presence, as plain values: the only thing that checks see."""

from dataclasses import dataclass, field
from enum import StrEnum

from openacorn.core.audit.offsite import Crawling, MailDomain
from openacorn.core.audit.spots import Spot
from openacorn.core.trades.catalogue import Catalogue, catalogue


class Failure(StrEnum):
    """Why a fetch gave no page. The words are shown to users as they stand."""

    NO_SUCH_NAME = "name does not resolve"
    DNS_UNAVAILABLE = "name server did not answer"
    REFUSED = "connection refused"
    UNREACHABLE = "host unreachable"
    TIMEOUT = "timed out"
    TLS = "secure connection failed"
    REDIRECT_LOOP = "redirects for ever"
    PROTOCOL = "broken answer"
    ROBOTS = "robots.txt asks not to read it"
    PRIVATE = "private address"
    BAD_ADDRESS = "not a web address"
    BUSY = "this machine was too busy to tell"


class TlsProblem(StrEnum):
    """What is wrong with a certificate, in a visitor's browser's terms."""

    EXPIRED = "expired"
    NOT_YET_VALID = "not yet valid"
    SELF_SIGNED = "self-signed"
    WRONG_NAME = "for another name"
    UNTRUSTED = "from an unknown issuer"
    HANDSHAKE = "no secure connection possible"


class FileKind(StrEnum):
    """What a page loads besides itself."""

    STYLE = "style"
    SCRIPT = "script"
    IMAGE = "image"


@dataclass(frozen=True, slots=True)
class ListingFacts:
    """What the listings say, as far as checks ask: `website` as listed, `phone` in E.164, `trade` a trade's id, `region`
    as ISO 3166 two-letter code; "" where nothing is known."""

    name: str
    website: str | None
    source: str
    at: str
    region: str | None = None
    phone: str = ""
    street: str = ""
    town: str = ""
    trade: str = ""
    found: str = ""  # a site that no listing gives, but that is theirs
    trades: Catalogue = field(default_factory=catalogue)
    """What kinds of business there are, by whose words a trade is known."""
    postcode: str = ""

    @property
    def site(self) -> str | None:
        """Where its pages were read: the found site, else the listed one."""
        return self.found or self.website


@dataclass(frozen=True, slots=True)
class Destination:
    """Where the listed address leads: the final address if the site answered, else the listed one."""

    url: str
    at: str


@dataclass(frozen=True, slots=True)
class Certificate:
    """The certificate shown; `not_after` ISO 8601; `problem` None when a browser would accept it."""

    problem: TlsProblem | None
    detail: str
    issuer: str = ""
    not_after: str = ""


@dataclass(frozen=True, slots=True)
class Visit:
    """One try to open the listed address. Times in seconds, sizes in bytes; `chain` is every address on the way."""

    asked: str
    url: str
    at: str
    chain: tuple[str, ...] = ()
    status: int | None = None
    failure: Failure | None = None
    detail: str = ""
    certificate: Certificate | None = None
    https_elsewhere: bool | None = None  # for a page served in the clear: does HTTPS work on the same host?
    wait_s: float = 0.0
    lost_s: float = 0.0  # our own process stood still so long: the server may have needed `wait_s` + `lost_s`
    connect_s: float = 0.0
    wire_bytes: int = 0
    truncated: bool = False
    headers: tuple[tuple[str, str], ...] = ()  # those that checks ask for, names in lower case
    sent_to_https: bool | None = None  # does the plain address send its visitors to the secure one?

    def header(self, name: str) -> str:
        """A header's value, "" if it was not sent."""
        return dict(self.headers).get(name, "")

    @property
    def answered(self) -> bool:
        """A page came back, whatever it shows."""
        return self.failure is None and self.status is not None and self.status < 400


@dataclass(frozen=True, slots=True)
class TagHit:
    """A known script or pixel seen in a page's source; `ids` are the account ids that stand beside it."""

    vendor: str
    kind: str
    snippet: str
    ids: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Found:
    """A value found on a page, with the text around it."""

    value: str
    snippet: str
    how: str


@dataclass(frozen=True, slots=True)
class Subresource:
    """A file that the page loads; `blocking` if the page cannot be drawn before it."""

    url: str
    kind: FileKind
    blocking: bool


@dataclass(frozen=True, slots=True)
class SchemaItem:
    """One thing described in structured data: its schema.org type, the syntax, and the properties that it gives."""

    type: str
    how: str
    properties: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class PageContent:
    """What a page says and offers, beyond its head. `actions`: links and buttons; `how` is "booking", "shop" or "privacy"."""

    text: str = ""  # what a visitor reads, cut at extract.content.TEXT_CHARS
    prose: str = ""  # of it what is written in sentences: no menus, names, prices
    robots: str = ""
    canonical: str | None = None
    insecure: tuple[str, ...] = ()  # files that a secure page loads in the clear
    contact_form: str = ""  # what shows it, "" if there is none
    form_perhaps: str = ""  # a form that may be one
    videos: tuple[Found, ...] = ()
    actions: tuple[Found, ...] = ()
    copyright_year: int | None = None
    copyright_words: str = ""
    dated: tuple[str, ...] = ()  # markup of another age, as it stands there
    fixed_px: int = 0  # width that the layout is fixed to
    fixed_by: str = ""
    hours: str = ""
    cookie_words: str = ""  # what the text says of cookies
    strange_frame: str = ""  # a frame of a host that nobody knows: what is in it does not show
    people: tuple[Found, ...] = ()  # `value` a name, `how` the role
    items: tuple[SchemaItem, ...] = ()


@dataclass(frozen=True, slots=True)
class PageFacts:
    """Everything read out of one page's source."""

    url: str
    at: str
    title: str | None = None
    title_count: int = 0
    description: str | None = None
    viewport: str | None = None
    language: str | None = None  # as declared
    written_in: str = ""  # ISO 639-1 code of the language of its text, "" if that does not tell
    generator: str | None = None
    refresh_to: str | None = None
    headings: tuple[tuple[int, str], ...] = ()
    images: int = 0
    images_without_alt: tuple[str, ...] = ()
    words: int = 0
    text_start: str = ""
    script_count: int = 0
    app_root: str | None = None  # the empty element that a script would fill
    frames: tuple[str, ...] = ()
    placeholder: str | None = None  # what kind of non-site this is, with the words that say so
    placeholder_snippet: str = ""
    tags: tuple[TagHit, ...] = ()
    own_scripts: tuple[str, ...] = ()  # addresses of the site's own scripts, loaded or named by inline ones
    strangers: tuple[str, ...] = ()  # scripts and counting pictures from hosts that nobody knows
    counting: str = ""  # an address loaded that speaks of counting visitors
    emails: tuple[Found, ...] = ()
    phones: tuple[Found, ...] = ()
    phone_like: tuple[str, ...] = ()  # digits that look like a number, of no known country
    socials: tuple[Found, ...] = ()  # `how` is the network
    schema_types: tuple[Found, ...] = ()  # `how` is the syntax
    schema_broken: tuple[str, ...] = ()
    inner_links: tuple[tuple[str, str], ...] = ()  # (kind, address)
    subresources: tuple[Subresource, ...] = ()
    html_bytes: int = 0
    charset_problem: str | None = None
    site_name: str = ""  # what the site calls its owner, where it says so
    content: PageContent = PageContent()
    cut: bool = False  # made to be slow, and not read whole

    @property
    def script_built(self) -> bool:
        """The source holds (nearly) no text and a script is there to make it: the source does not show the page."""
        if self.script_count == 0 or self.headings or self.content.contact_form:
            return self.app_root is not None and self.script_count > 0 and self.words < SCRIPT_BUILT_WORDS
        return self.words < (SCRIPT_BUILT_WORDS if self.app_root is None else ROOTED_WORDS)


SCRIPT_BUILT_WORDS, ROOTED_WORDS = 15, 120
"""Below these a page with a script is taken as built by it: without and with an element that waits, empty, to be filled. A
shell's own words are its menu and a notice on cookies or scripts. Set on the page sets in tests/."""


@dataclass(frozen=True, slots=True)
class Pages:
    """The pages read of one site: the home page and the inner pages chosen by link text; `missed` could not be read."""

    home: PageFacts
    inner: tuple[PageFacts, ...] = ()
    missed: tuple[tuple[str, str], ...] = ()
    rendered: bool = False  # is the home page what a browser showed, with its scripts run?
    scripts: tuple[PageFacts, ...] = ()  # the site's own scripts that were read, as far as they carry tags
    unread: tuple[str, ...] = ()  # own scripts that were not read, or files that a browser could not load

    @property
    def all(self) -> tuple[PageFacts, ...]:
        return (self.home, *self.inner)


@dataclass(frozen=True, slots=True)
class Rendered:
    """The home page as a browser showed it on a phone, on the load model's stated profile. load_s, lcp_s: seconds to the load
    event (0: it had not come when the browser was closed after waited_s) and to the largest content; content_width against
    width in CSS px; fired: tags whose addresses were asked for."""

    url: str
    at: str
    page: PageFacts | None = None
    load_s: float = 0.0
    lcp_s: float = 0.0
    waited_s: float = 0.0
    width: int = 0
    content_width: int = 0
    scale: float = 1.0  # how much smaller a phone shows it to make it fit
    requests: tuple[str, ...] = ()
    fired: tuple[TagHit, ...] = ()
    refused: tuple[str, ...] = ()  # hosts that it was not let through to
    lost: tuple[Subresource, ...] = ()  # scripts and style sheets that did not come
    spots: tuple[Spot, ...] = ()
    failed: str = ""


@dataclass(frozen=True, slots=True)
class Weighed:
    """A file the page loads, with its size in bytes (None: the server did not say). kept_s: how long browsers may keep it,
    0 not at all, None where the server says nothing; asked: was it asked for at all?"""

    url: str
    kind: FileKind
    blocking: bool
    size: int | None
    kept_s: int | None = None
    asked: bool = False


@dataclass(frozen=True, slots=True)
class Weights:
    """The page's own transfer size and its files; `unweighed` counts files beyond those asked for."""

    html_bytes: int
    files: tuple[Weighed, ...]
    unweighed: int


@dataclass(frozen=True, slots=True)
class Crawl:
    """All that one visit to a site brought home: stored as it is, so that checks can run again with no network."""

    visit: Visit
    pages: Pages | None = None
    weights: Weights | None = None
    seconds: float = 0.0
    cut_short: str = ""  # why reading ended early, if it did
    crawling: Crawling | None = None
    mail: MailDomain | None = None
    rendered: Rendered | None = None
