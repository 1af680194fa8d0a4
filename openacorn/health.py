"""What this machine lacks: programs, name server, mail port, clock, room on the disk, settings; each with its remedy."""

import contextlib
import os
import shutil
import smtplib
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from enum import StrEnum
from importlib import resources
from pathlib import Path

import dns.exception
import dns.resolver

from openacorn.core.report.pdf import NoPdf, to_pdf
from openacorn.db.folder import DATABASE
from openacorn.net.probes.browser import browser_paths
from openacorn.settings import Settings, SettingsError, load_settings

SECONDS = 4.0
"""What a name server or a mail server may take to answer."""

ROOM_MB, LEAST_MB = 2_000, 200
"""A thousand audited businesses take about 100 MB: under ROOM_MB it is time to make room, under LEAST_MB a run stops."""

DAY_S = 86_400


class HealthState(StrEnum):
    """How it stands with one part."""

    OK = "ok"
    LOW = "low"
    MISSING = "missing"
    NOT_TRIED = "not tried"


@dataclass(frozen=True, slots=True)
class HealthPart:
    """One thing that the application needs. said: what was found; remedy: what to do, "" if nothing."""

    name: str
    state: HealthState
    said: str
    remedy: str = ""


def _browser() -> HealthPart:
    paths = browser_paths()
    if paths is None:
        remedy = "Debian: apt-get install chromium chromium-driver"
        return HealthPart(
            "browser", HealthState.MISSING, "no Chromium with its driver: no screenshots, no measured load time", remedy
        )
    return HealthPart("browser", HealthState.OK, paths[0])


def _pdf() -> HealthPart:
    try:
        to_pdf("<p>x</p>")
    except NoPdf as missing:
        return HealthPart("PDF", HealthState.MISSING, f"PDFs cannot be made: {missing}", missing.remedy)
    return HealthPart("PDF", HealthState.OK, "PDFs can be made")


def _names(resolver: dns.resolver.Resolver) -> HealthPart:
    remedy = "check this machine's network, and its name servers in /etc/resolv.conf"
    try:
        resolver.resolve(".", "NS", lifetime=SECONDS)
    except (dns.resolver.NXDOMAIN, dns.resolver.NoAnswer):
        pass  # that is an answer
    except (dns.exception.DNSException, OSError) as error:
        return HealthPart(
            "name server",
            HealthState.MISSING,
            f"no answer from {', '.join(map(str, resolver.nameservers))}: {error}",
            remedy,
        )
    return HealthPart("name server", HealthState.OK, f"{resolver.nameservers[0]} answers")


def _mail(settings: Settings, resolver: dns.resolver.Resolver, port: int) -> HealthPart:
    """Can mail servers be asked about addresses? Tried with the server of the agency's own contact address."""
    domain = settings.contact_address.rpartition("@")[2]
    if not domain:
        return HealthPart(
            "mail port", HealthState.NOT_TRIED, "no contact_address is set whose mail server could be asked"
        )
    try:
        best = min(resolver.resolve(domain, "MX", lifetime=SECONDS), key=lambda record: record.preference)
        address = next(iter(resolver.resolve(best.exchange, "A", lifetime=SECONDS))).address
        with smtplib.SMTP(address, port, timeout=SECONDS) as server:
            server.noop()
    except (dns.exception.DNSException, OSError, smtplib.SMTPException) as error:
        remedy = "ask your provider to open outgoing port 25, or verify addresses by a service's file"
        return HealthPart(
            "mail port",
            HealthState.MISSING,
            f"the mail server of {domain} does not answer on port {port}: {error}",
            remedy,
        )
    return HealthPart("mail port", HealthState.OK, f"the mail server of {domain} answers")


def _clock() -> HealthPart:
    made = max(path.stat().st_mtime for path in Path(__file__).parent.glob("*.py"))
    now = time.time()
    if now < made - DAY_S:
        return HealthPart(
            "clock",
            HealthState.MISSING,
            f"it is {time.ctime(now)} here, before this program was installed",
            "set the clock",
        )
    return HealthPart("clock", HealthState.OK, f"it is {time.strftime('%Y-%m-%d %H:%M %Z', time.localtime(now))}")


def _disk(folder: Path) -> HealthPart:
    there = next(path for path in (folder, *folder.parents) if path.exists())
    free, size = shutil.disk_usage(there).free // 1_000_000, 0
    with contextlib.suppress(OSError):
        size = (folder / DATABASE).stat().st_size // 1_000_000
    said = f"{free:,} MB free; the data take {size:,} MB"
    if not os.access(there, os.W_OK):
        return HealthPart(
            "data folder",
            HealthState.MISSING,
            f"{there} cannot be written to",
            "choose another with --data, or change its owner",
        )
    state = HealthState.OK if free >= ROOM_MB else HealthState.LOW if free >= LEAST_MB else HealthState.MISSING
    return HealthPart("data folder", state, said, "" if state is HealthState.OK else f"make room where {there} is")


def _pages() -> HealthPart:
    built = resources.files("openacorn").joinpath("pages", "index.html").is_file()
    built = built or (Path(__file__).parents[1] / "web" / "dist" / "index.html").is_file()
    if not built:
        return HealthPart(
            "pages",
            HealthState.MISSING,
            "the application's pages are not built",
            "./acorn serve builds them; it needs Node.js",
        )
    return HealthPart("pages", HealthState.OK, "built")


def examine(
    folder: Path, *, resolver: dns.resolver.Resolver | None = None, mail_port: int = 25
) -> Iterator[HealthPart]:
    """Look at one part after another; each is given as soon as it is known. folder: the data folder, which may not be there yet."""
    settings = Settings()
    try:
        settings = load_settings(folder)
        yield HealthPart("settings", HealthState.OK, f"{len(settings.sources)} sources; agency: {settings.agency}")
    except SettingsError as error:
        yield HealthPart(
            "settings", HealthState.MISSING, str(error), "mend that part, or delete the file to start from defaults"
        )
    asked = resolver or dns.resolver.get_default_resolver()
    parts: tuple[Callable[[], HealthPart], ...] = (
        _browser, _pdf, _pages, lambda: _disk(folder), _clock, lambda: _names(asked), lambda: _mail(settings, asked, mail_port),
    )  # fmt: skip
    for look in parts:
        yield look()
