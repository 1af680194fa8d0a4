"""From a crawl to what is stored of it."""

import zlib
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from openacorn.core.audit.assemble import assemble, not_fetched
from openacorn.core.audit.check import run_checks
from openacorn.core.audit.evidence import Crawl, DomainNames, ListingFacts, SiteSearch
from openacorn.core.audit.hosts import borrowed, host_of
from openacorn.core.audit.name_candidates import name_domains
from openacorn.core.region import region_of
from openacorn.net.client import Client
from openacorn.net.probes.domains import domain_states
from openacorn.net.probes.hunt import hunt
from openacorn.net.probes.site import RawPage, SiteProbe, now
from openacorn.settings import Settings
from openacorn.store.audits import StoredAudit, pack_around, pack_crawl

MAX_NAMES = 4
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
    trade: str = ""
    email: str = ""
    deep: bool = True
    """Inner pages too, for contacts?"""


def task_of(row: Mapping[str, Any], email: str = "", *, deep: bool = True) -> AuditTask:
    """The audit of a business as the store has it; email: an address that a listing gives."""
    known = {name: row[name] or "" for name in ("phone", "street", "town", "trade")}
    return AuditTask(row["id"], row["name"], row["website"], "its listings", now(), email=email, deep=deep, **known)


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

    @property
    def found(self) -> str:
        """The site that no listing gives, "" if none was found."""
        theirs = (item.url for item in (self.search.tried if self.search else ()) if item.verdict == "theirs")
        return next(theirs, "")


def facts_of(task: AuditTask, found: str = "") -> ListingFacts:
    """What the listings say, as checks ask for it."""
    return ListingFacts(
        task.name, task.website or None, task.source, task.at,
        phone=task.phone, street=task.street, town=task.town, trade=task.trade, found=found,
    )  # fmt: skip


def judge(task: AuditTask, gathered: Gathered) -> StoredAudit:
    """Run the checks on what was gathered."""
    crawl = gathered.crawl
    evidence = assemble(facts_of(task, gathered.found), crawl, gathered.search, gathered.names)
    return StoredAudit(
        business_id=task.business_id,
        website=task.website,
        at=now(),
        seconds=crawl.seconds if crawl else 0.0,
        crawl=pack_crawl(crawl) if crawl else None,
        pages=[(page.url, page.at, page.content_type, zlib.compress(page.body, 6)) for page in gathered.pages],
        findings=run_checks(evidence),
        contacts=contacts_in(crawl),
        site_name=_site_name(crawl),
        found=gathered.found,
        around=pack_around(gathered.search, gathered.names),
    )


class Auditor:
    """Audits businesses with one client."""

    def __init__(self, client: Client, settings: Settings) -> None:
        self._client = client
        self._registry, self._endings = settings.registry, tuple(settings.endings)
        self.probe = SiteProbe(client, lambda host: region_of(host, settings.region))

    async def audit(self, task: AuditTask) -> StoredAudit:
        """Visit the site, or look for one where none is listed, and judge what was found."""
        facts = facts_of(task)
        if not not_fetched(task.website or None):
            crawl, pages = await self.probe.visit(task.website, deep=task.deep)
            names = await self._names(facts) if borrowed(host_of(crawl.visit.url)) else None
            return judge(task, Gathered(crawl, pages, names=names))
        emails = (task.email,) if task.email else ()
        found = await hunt(self.probe, facts, emails, self._endings)
        names = None if found.crawl else await self._names(facts)
        return judge(task, Gathered(found.crawl, found.pages, found.search, names))

    async def _names(self, facts: ListingFacts) -> DomainNames | None:
        if not (self._registry and self._endings):
            return None
        wanted = name_domains(facts.name, facts.town, self._endings)[:MAX_NAMES]
        states = await domain_states(self._client, self._registry, wanted)
        return DomainNames(now(), tuple(states), self._registry)
