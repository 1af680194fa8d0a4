"""Audits at the terminal: the shipped probe and checks, printed or as JSON."""

import asyncio
from collections.abc import Callable
from dataclasses import asdict, replace
from typing import Any

from rich.console import Console
from rich.table import Table

from openacorn.audit.auditor import contacts_in
from openacorn.clock import utc_now
from openacorn.core.audit.assemble import not_fetched
from openacorn.core.audit.check import all_checks
from openacorn.core.audit.evidence import Crawl, Failure, ListingFacts
from openacorn.core.audit.load_model import modelled_seconds
from openacorn.core.audit.reconcile import judged
from openacorn.core.audit.warm_up import warm_up
from openacorn.core.geo.region import region_of
from openacorn.net.client import Client
from openacorn.net.probes.browser import BrowserProbe
from openacorn.net.probes.site import INNER_PAGES, SiteProbe
from openacorn.settings import Settings

IN_FLIGHT = 50
MARKS = {"gap": "●", "partial": "◐", "ok": "·", "not applicable": "–", "unknown": "○"}


def _timing(crawl: Crawl | None) -> dict[str, Any]:
    if crawl is None:
        return {"total_s": 0.0}
    visit = crawl.visit
    timing: dict[str, Any] = {"total_s": crawl.seconds, "connect_s": visit.connect_s, "wait_s": visit.wait_s}
    if crawl.weights:
        seconds, complete = modelled_seconds(visit, crawl.weights)
        timing |= {"load_s": round(seconds, 2), "load_kind": "modelled" if complete else "modelled, at least"}
    if crawl.rendered and crawl.rendered.load_s:
        timing |= {"load_s": crawl.rendered.load_s, "lcp_s": crawl.rendered.lcp_s, "load_kind": "measured"}
    return timing


def result_of(url: str, crawl: Crawl | None, at: str) -> dict[str, Any]:
    """The contract's object: url, final_url, outcome_by_check, contacts, timing; `refused` for a private address."""
    findings = judged(ListingFacts(url, url, "the command line", at), crawl)
    contacts = contacts_in(crawl)
    socials: dict[str, str] = {}
    for kind, value, how, _, _ in contacts:
        if kind == "social":
            socials.setdefault(how, value)
    return {
        "url": url,
        "final_url": crawl.visit.url if crawl else url,
        "refused": bool(crawl and crawl.visit.failure is Failure.PRIVATE),
        "outcome_by_check": {
            check: {
                "outcome": str(finding.outcome),
                "value": finding.value,
                "evidence": [asdict(item) for item in finding.evidence],
                "reason": finding.reason,
            }
            for check, finding in findings.items()
        },
        "contacts": {
            "emails": [value for kind, value, *_ in contacts if kind == "email"],
            "phones": [value for kind, value, *_ in contacts if kind == "phone"],
            "socials": socials,
        },
        "timing": _timing(crawl),
    }


async def audit_all(
    urls: list[str],
    settings: Settings,
    *,
    allow_private: bool,
    rendered: bool = False,
    pages: int = 1 + INNER_PAGES,
    shown: Callable[[dict[str, Any]], None],
) -> list[dict[str, Any]]:
    """Audit addresses side by side, at most `pages` pages of each; `shown` gets each result as it comes, the
    return value keeps the order asked for."""
    warm_up()
    limit = asyncio.Semaphore(IN_FLIGHT)
    async with Client(settings, allow_private=allow_private) as client:
        probe = SiteProbe(client, lambda host: region_of(host, None), home=settings.region)
        browser = BrowserProbe(settings, allow_private=allow_private)

        async def one(url: str) -> dict[str, Any]:
            async with limit:
                crawl = None if not_fetched(url) else (await probe.visit(url, pages=pages))[0]
                if rendered and crawl is not None and crawl.pages is not None and not crawl.pages.home.placeholder:
                    crawl = replace(crawl, rendered=(await browser.look(crawl.visit.url)).rendered)
            result = result_of(url, crawl, utc_now())
            shown(result)
            return result

        return await asyncio.gather(*map(one, urls))


def print_table(result: dict[str, Any]) -> None:
    """One site's findings for a reader."""
    table = Table(title=f"{result['url']} → {result['final_url']}", title_justify="left", expand=False)
    for column in ("", "check", "outcome", "why"):
        table.add_column(column)
    for check in all_checks():
        if check.id not in result["outcome_by_check"]:
            continue  # about listings, of which there are none at a terminal
        finding = result["outcome_by_check"][check.id]
        table.add_row(MARKS[finding["outcome"]], check.title, finding["outcome"], finding["reason"])
    contacts = result["contacts"]
    found = [*contacts["emails"], *contacts["phones"], *contacts["socials"].values()]
    console = Console()
    console.print(table)
    console.print("contacts: " + (", ".join(found) or "none found"))
