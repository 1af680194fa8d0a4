"""From a crawl to what is stored of it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from openacorn.audit.lookups import PeopleFinder
from openacorn.business.store.audits import StoredAudit, pack_crawl, pack_offsite
from openacorn.clock import utc_now
from openacorn.core.audit.address import host_of
from openacorn.core.audit.assemble import not_fetched
from openacorn.core.audit.evidence import Crawl, ListingFacts, Rendered, Visit
from openacorn.core.audit.finding import Outcome
from openacorn.core.audit.hosts import borrowed, registrable_domain
from openacorn.core.audit.name_candidates import name_domains
from openacorn.core.audit.offsite import DomainNames, SiteSearch
from openacorn.core.audit.reconcile import judged
from openacorn.core.gather.facts import DEFAULT
from openacorn.core.geo.region import region_of, region_of_number
from openacorn.core.trades.catalogue import catalogue
from openacorn.core.trades.trade import Trade
from openacorn.db.compression import compress
from openacorn.gather.look_ups import LookUp
from openacorn.net.client import Client
from openacorn.net.probes.browser import BrowserProbe
from openacorn.net.probes.browser_session import NoBrowser
from openacorn.net.probes.domains import domain_states
from openacorn.net.probes.mailbox import MailboxProbe
from openacorn.net.probes.notes import RawPage
from openacorn.net.probes.site import INNER_PAGES, SiteProbe
from openacorn.net.probes.site_discovery import discover_site
from openacorn.settings import Settings

MAX_NAMES = 4
MAX_VERIFIED = 8
Contact = tuple[str, str, str, str, str]


@dataclass(frozen=True, slots=True)
class AuditTask:
    """A business to be audited; `website` "" if none is listed."""

    business_id: int
    name: str
    website: str
    source: str
    at: str
    phone: str = ""
    street: str = ""
    town: str = ""
    postcode: str = ""
    trade: str = ""
    email: str = ""
    deep: bool = True
    """Inner pages too, for contacts?"""
    whole: bool = False
    """Every page of the site, up to the installation's limit?"""
    rendered: bool = False
    """In a browser too?"""
    verify: bool = False
    """Ask mail servers about the addresses found?"""
    people: bool = False
    """Ask the people directory of the settings who is there?"""
    look_ups: tuple[LookUp, ...] = ()
    """The user's own APIs that are asked who is there."""
    look: str = ""
    """The address that a browser opens, and nothing else: the rest of an audit is there."""
    own_trades: tuple[Trade, ...] = ()
    """The user's trades beside the shipped ones."""


def audit_task(
    row: Mapping[str, Any], email: str = "", facts: Sequence[str] = DEFAULT, own_trades: tuple[Trade, ...] = (),
    look_ups: tuple[LookUp, ...] = (),
) -> AuditTask:  # fmt: skip
    """The audit of a business as the store has it. email: an address that a listing gives; facts: groups to find out;
    own_trades, look_ups: the user's."""
    return AuditTask(
        row["id"], row["name"], row["website"], "its listings", utc_now(), email=email,
        phone=row["phone"] or "", street=row["street"] or "", town=row["town"] or "", postcode=row["postcode"] or "",
        trade=row["trade"] or "",
        deep="contacts" in facts, whole="whole_site" in facts, rendered="browser" in facts, verify="mailboxes" in facts,
        people="people" in facts, own_trades=own_trades, look_ups=look_ups,
    )  # fmt: skip


def audit_task_key(row: Mapping[str, Any]) -> tuple[str, str]:
    """(key, payload) of the unit of work that audits a business: another website is another unit."""
    return f"{row['id']} {row['website']}", str(row["id"])


def contacts_in(crawl: Crawl | None) -> list[Contact]:
    """(kind, value, how, page, snippet) of every contact on the pages, each once, the home page's first."""
    if crawl is None or crawl.pages is None or crawl.pages.home.placeholder:
        return []
    found: dict[tuple[str, str], Contact] = {}
    for page in crawl.pages.all:
        for kind, items in (("email", page.emails), ("phone", page.phones), ("social", page.socials)):
            for item in items:
                found.setdefault((kind, item.value), (kind, item.value, item.how, page.url, item.snippet))
    return list(found.values())


def _site_name(crawl: Crawl | None) -> str:
    if crawl is None or crawl.pages is None or crawl.pages.home.placeholder:
        return ""
    return crawl.pages.home.site_name


@dataclass(frozen=True, slots=True)
class Gathered:
    """The evidence that one audit brought home."""

    crawl: Crawl | None = None
    pages: tuple[RawPage, ...] = ()
    search: SiteSearch | None = None
    names: DomainNames | None = None
    pictures: Mapping[str, bytes] = field(default_factory=dict)

    @property
    def found(self) -> str:
        """The site that no listing gives, "" if none was found."""
        theirs = (item.url for item in (self.search.tried if self.search else ()) if item.verdict == "theirs")
        return next(theirs, "")


def own_domain(crawl: Crawl | None) -> str:
    """The registrable domain of the site that was read, "" where it stands on somebody else's."""
    host = host_of(crawl.visit.url) if crawl and crawl.visit.answered else ""
    return "" if not host or borrowed(host) else registrable_domain(host) or ""


def facts_of(task: AuditTask, found: str = "") -> ListingFacts:
    """What the listings say, as checks ask for it."""
    return ListingFacts(
        task.name, task.website or None, task.source, task.at,
        phone=task.phone, street=task.street, town=task.town, postcode=task.postcode, trade=task.trade, found=found,
        trades=catalogue(task.own_trades),
    )  # fmt: skip


MAX_TEXT = 30_000


def text_of(crawl: Crawl | None) -> str:
    """What a site's pages say, for searching: titles, headings, sentences; the pages' own beginnings."""
    if crawl is None or crawl.pages is None or crawl.pages.home.placeholder:
        return ""
    answer = []
    for page in crawl.pages.all:
        answer += [
            page.title or "",
            page.description or "",
            *(text for _, text in page.headings),
            page.text_start,
            page.content.prose,
        ]
    return "\n".join(dict.fromkeys(filter(None, answer)))[:MAX_TEXT]


def evaluate_crawl(task: AuditTask, gathered: Gathered) -> StoredAudit:
    """Run the checks on what was gathered."""
    crawl = gathered.crawl
    return StoredAudit(
        business_id=task.business_id,
        website=task.website,
        at=utc_now(),
        seconds=crawl.seconds if crawl else 0.0,
        crawl=pack_crawl(crawl) if crawl else None,
        pages=[(page.url, page.at, page.content_type, compress(page.body)) for page in gathered.pages],
        findings=judged(facts_of(task, gathered.found), crawl, gathered.search, gathered.names),
        contacts=contacts_in(crawl),
        site_name=_site_name(crawl),
        found=gathered.found,
        around=pack_offsite(gathered.search, gathered.names),
        pictures=sorted(gathered.pictures.items()),
        text=text_of(crawl),
    )


class Auditor:
    """Audits businesses with one client. `sources`: the client that may reach the sources' own addresses."""

    def __init__(self, client: Client, settings: Settings, sources: Client) -> None:
        self._client = client
        self._people = PeopleFinder(sources, settings)
        self._site_pages = settings.site_pages
        self._registry, self._endings = settings.registry, tuple(settings.endings)
        self._browser = BrowserProbe(settings)
        self._mailboxes = MailboxProbe(client, settings.contact_address or settings.mail.sender)
        self.probe = SiteProbe(client, lambda host: region_of(host, None), home=settings.region)

    async def audit(self, task: AuditTask) -> StoredAudit:
        """Visit the site, or look for one where none is listed, and judge what was found; then verify the addresses.

        Of a task that is a look alone the answer holds what the browser saw, and no findings.
        """
        if task.look:
            return await self._look_alone(task)
        audit = await self._audit(task)
        wanted = [value for kind, value, *_ in audit.contacts if kind == "email"][:MAX_VERIFIED] if task.verify else []
        return replace(audit, verified=await self._mailboxes.verify(wanted)) if wanted else audit

    async def _audit(self, task: AuditTask) -> StoredAudit:
        gathered = await self._gather(task)
        audit = evaluate_crawl(task, gathered)
        if not (task.people or task.look_ups):
            return audit
        # people at a domain of somebody else are somebody else's
        theirs = audit.findings["site_ownership"].outcome is not Outcome.GAP
        domain = own_domain(gathered.crawl) if theirs else ""
        people = await self._people.find(facts_of(task), domain, task.look_ups, directory=task.people)
        return replace(audit, around=pack_offsite(gathered.search, gathered.names, people))

    async def _gather(self, task: AuditTask) -> Gathered:
        facts = facts_of(task)
        if not not_fetched(task.website or None):
            crawl, pages = await self.probe.visit(
                task.website, deep=task.deep or task.whole, pages=self._pages(task), region=region_of_number(task.phone)
            )
            names = await self._names(facts) if borrowed(host_of(crawl.visit.url)) else None
            crawl, pictures = await self._look(crawl, task) if task.rendered else (crawl, {})
            return Gathered(crawl, pages, names=names, pictures=pictures)
        emails = (task.email,) if task.email else ()
        found = await discover_site(self.probe, facts, emails, self._endings)
        if found.crawl is None:
            return Gathered(search=found.search, names=await self._names(facts))
        crawl, pictures = await self._look(found.crawl, task) if task.rendered else (found.crawl, {})
        return Gathered(crawl, found.pages, found.search, pictures=pictures)

    async def _look_alone(self, task: AuditTask) -> StoredAudit:
        at = utc_now()
        seen, pictures = await self._browse(task.look, task)
        crawl = pack_crawl(Crawl(Visit(task.look, task.look, at), rendered=seen))
        return StoredAudit(
            task.business_id, task.website, at, 0.0, crawl, [], {}, [], pictures=sorted(pictures.items())
        )

    def _pages(self, task: AuditTask) -> int:
        return self._site_pages if task.whole else 1 + INNER_PAGES

    async def _look(self, crawl: Crawl, task: AuditTask) -> tuple[Crawl, Mapping[str, bytes]]:
        """The site in a browser, where there is a site and a browser."""
        if crawl.pages is None or crawl.pages.home.placeholder:
            return crawl, {}
        rendered, pictures = await self._browse(crawl.visit.url, task)
        return replace(crawl, rendered=rendered), pictures

    async def _browse(self, url: str, task: AuditTask) -> tuple[Rendered, Mapping[str, bytes]]:
        try:
            seen = await self._browser.look(url, region_of_number(task.phone))
        except NoBrowser as missing:
            return Rendered(url, utc_now(), failed=str(missing)), {}
        return seen.rendered, seen.pictures

    async def _names(self, facts: ListingFacts) -> DomainNames | None:
        if not (self._registry and self._endings):
            return None
        wanted = name_domains(facts.name, facts.town, self._endings)[:MAX_NAMES]
        states = await domain_states(self._client, self._registry, wanted)
        return DomainNames(utc_now(), tuple(states), self._registry)
