"""From a crawl to what is stored of it."""

import zlib
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from openacorn.core.audit.assemble import assemble, not_fetched
from openacorn.core.audit.check import run_checks
from openacorn.core.audit.evidence import Crawl, ListingFacts
from openacorn.net.probes.site import RawPage, SiteProbe, now
from openacorn.store.audits import StoredAudit, pack_crawl

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
    deep: bool = True
    """Inner pages too, for contacts?"""


def task_of(row: Mapping[str, Any], *, deep: bool = True) -> AuditTask:
    """The audit of a business as the store has it."""
    return AuditTask(
        row["id"], row["name"], row["website"], "its listings", now(), deep=deep,
        phone=row["phone"] or "", street=row["street"] or "", town=row["town"] or "", trade=row["trade"] or "",
    )  # fmt: skip


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


def judge(task: AuditTask, crawl: Crawl | None, pages: Iterable[RawPage] = ()) -> StoredAudit:
    """Run the checks on what was gathered."""
    facts = ListingFacts(
        task.name, task.website or None, task.source, task.at,
        phone=task.phone, street=task.street, town=task.town, trade=task.trade,
    )  # fmt: skip
    return StoredAudit(
        business_id=task.business_id,
        website=task.website,
        at=now(),
        seconds=crawl.seconds if crawl else 0.0,
        crawl=pack_crawl(crawl) if crawl else None,
        pages=[(page.url, page.at, page.content_type, zlib.compress(page.body, 6)) for page in pages],
        findings=run_checks(assemble(facts, crawl)),
        contacts=contacts_in(crawl),
        site_name=_site_name(crawl),
    )


async def audit(probe: SiteProbe, task: AuditTask) -> StoredAudit:
    """Visit the site, if there is one to visit, and judge it."""
    if not_fetched(task.website or None):
        return judge(task, None)
    crawl, pages = await probe.visit(task.website, deep=task.deep)
    return judge(task, crawl, pages)
