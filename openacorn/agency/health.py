"""What this machine lacks: programs, name server, mail port, clock, room on the disk, settings; each with its remedy."""

import contextlib
import os
import shutil
import smtplib
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import UTC, datetime
from enum import StrEnum
from importlib import resources
from pathlib import Path

import dns.exception
import dns.resolver

from openacorn.core.report.pdf import NoPdf, to_pdf
from openacorn.db.database import Database, DatabaseError
from openacorn.db.folder import DATABASE, LAST_BACKUP
from openacorn.gather.reach import source_titles
from openacorn.gather.sources._source import all_sources
from openacorn.net.probes.browser_session import browser_paths
from openacorn.runs.store import tasks
from openacorn.runs.store.tasks import LastAnswer
from openacorn.settings import Settings
from openacorn.settings_file import SettingsError, load_settings, unopened

SECONDS = 4.0
"""What a name server or a mail server may take to answer."""

ROOM_MB, LEAST_MB = 2_000, 200
"""A thousand audited businesses take about 100 MB: under ROOM_MB it is time to make room, under LEAST_MB a run stops."""

DAY_S = 86_400
BACKUP_DAYS = 7
"""A backup older than this is too old (common practice)."""


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


def _settings(folder: Path, settings: Settings) -> HealthPart:
    if lost := unopened(folder):
        return HealthPart(
            "settings",
            HealthState.MISSING,
            f"{lost} keys or passwords cannot be opened: secret.key is another one",
            "enter them again under Settings, or bring back secret.key from a backup",
        )
    return HealthPart("settings", HealthState.OK, f"agency: {settings.agency}; sources: {len(settings.sources)}")


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
            "mail port", HealthState.NOT_TRIED, "no contact e-mail is set whose mail server could be asked"
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


def _backup(folder: Path, now: datetime) -> HealthPart:
    """When was the last backup made?"""
    remedy = "./acorn backup FILE, also while the application runs"
    try:
        made = datetime.fromisoformat((folder / LAST_BACKUP).read_text())
    except (OSError, ValueError):
        if not (folder / DATABASE).exists():
            return HealthPart("last backup", HealthState.OK, "there is nothing to back up yet")
        return HealthPart("last backup", HealthState.LOW, "there is no backup yet", remedy)
    days = (now - made).days
    said = f"made {days} days ago" if days > 1 else "made within the last two days"
    return HealthPart("last backup", HealthState.LOW if days > BACKUP_DAYS else HealthState.OK, said, remedy)


def _sources(folder: Path, settings: Settings) -> Iterator[HealthPart]:
    """The result of the last question to each source that is set up or was asked."""
    answers: dict[str, LastAnswer] = {}
    titles = {source.id: source.title for source in all_sources().values()}
    if (folder / DATABASE).exists():
        with (
            contextlib.suppress(DatabaseError),
            contextlib.closing(Database(folder / DATABASE)) as database,
            database.read() as conn,
        ):
            answers = {answer.lane: answer for answer in tasks.last_answers(conn)}
            titles = source_titles(conn)
    for source_id in dict.fromkeys((*settings.sources, *answers)):
        last, name = answers.get(source_id), f"source: {titles.get(source_id, source_id)}"
        if last is None:
            yield HealthPart(name, HealthState.NOT_TRIED, "it has not been asked yet", "try it under Settings")
        elif last.error:
            yield HealthPart(name, HealthState.MISSING, f"{last.error} ({last.at:.10})", last.remedy)
        else:
            yield HealthPart(name, HealthState.OK, f"answered with {last.rows} results ({last.at:.10})")


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
    built = built or (Path(__file__).parents[2] / "web" / "dist" / "index.html").is_file()
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
        yield _settings(folder, settings)
    except SettingsError as error:
        yield HealthPart(
            "settings", HealthState.MISSING, str(error), "mend that part, or delete the file to start from defaults"
        )
    asked = resolver or dns.resolver.get_default_resolver()
    parts: tuple[Callable[[], HealthPart], ...] = (
        _browser, _pdf, _pages, lambda: _disk(folder), lambda: _backup(folder, datetime.now(UTC)), _clock,
        lambda: _names(asked), lambda: _mail(settings, asked, mail_port),
    )  # fmt: skip
    for look in parts:
        yield look()
    yield from _sources(folder, settings)
