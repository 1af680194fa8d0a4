"""Finding, giving out and erasing what is kept of a person, everywhere: tables, the index of words, files of the data folder."""

import hashlib
import hmac
import re
import sqlite3
import zipfile
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import timedelta
from itertools import islice
from pathlib import Path

import phonenumbers

from openacorn.business import grid_file
from openacorn.business.store import audits, businesses
from openacorn.clock import now, utc_now
from openacorn.core.privacy.traces import Subject, pattern_of
from openacorn.db.database import Database
from openacorn.db.folder import COPIES_FOLDER, KEPT_ASIDE
from openacorn.db.secrets import installation_key
from openacorn.outreach.people import people_at
from openacorn.privacy.store import register, traces
from openacorn.privacy.store.traces import Trace

AT_ONCE = 300
"""Places cleared in one transaction: other writers have their turn between two."""

SHOWN = 1000
ROUNDS = 3
MONTH = timedelta(days=30.44)
OWN_FILES = ("deliveries", "imports", COPIES_FOLDER)
"""Folders of the data folder whose files may hold people: exports, uploads, copies made before an upgrade."""


@dataclass(frozen=True, slots=True)
class FoundPerson:
    """Where somebody stands: the first places, and how many there are in all, by kind of data."""

    traces: list[Trace]
    total: int
    by_title: dict[str, int]
    files: list[str]


@dataclass(frozen=True, slots=True)
class Erasure:
    """What was erased: places by kind of data, businesses, files deleted; left: what this program cannot reach or undo."""

    total: int
    by_title: dict[str, int]
    businesses: list[int]
    files: list[str]
    left: list[str]


def _holds(path: Path, pattern: re.Pattern[str]) -> bool:
    """Does a file hold traces? Read as text, and inside if it is a ZIP archive, as spreadsheets are."""
    if zipfile.is_zipfile(path):
        with zipfile.ZipFile(path) as pack:
            return any(pattern.search(pack.read(name).decode("utf-8", "replace")) for name in pack.namelist())
    return pattern.search(path.read_bytes().decode("utf-8", "replace")) is not None


def _files(folder: Path, pattern: re.Pattern[str]) -> Iterator[Path]:
    """Files of ours that hold traces; a copy of the whole database counts as holding all of them."""
    for part in OWN_FILES:
        for path in sorted((folder / part).rglob("*")):
            if path.is_file() and (part == COPIES_FOLDER or _holds(path, pattern)):
                yield path


def find_person(folder: Path, database: Database, subject: Subject, most: int = SHOWN) -> FoundPerson:
    """Where somebody stands: the first `most` places, all of them counted. Blocks for as long as reading the store takes."""
    pattern = pattern_of(subject)
    counted: Counter[str] = Counter()
    shown: list[Trace] = []
    with database.read() as conn:
        for trace in traces.find_traces(conn, pattern):
            counted[trace.title] += 1
            if len(shown) < most:
                shown.append(trace)
    files = [str(path.relative_to(folder)) for path in _files(folder, pattern)]
    return FoundPerson(shown, counted.total(), dict(counted.most_common()), files)


def fingerprint_of(key: bytes, kind: str, value: str) -> str:
    """A hash by which somebody erased is known again, and which nobody without the installation's key can guess at."""
    return hmac.new(key, f"{kind}:{value.casefold()}".encode(), hashlib.sha256).hexdigest()


def _clear(database: Database, pattern: re.Pattern[str], business: int | None = None) -> tuple[Counter[str], set[int]]:
    """Take somebody out of every place; return how many places by kind of data, and the businesses that were touched."""
    counted: Counter[str] = Counter()
    touched: set[int] = set()
    for _ in range(ROUNDS):  # what was written meanwhile
        with database.read() as conn:
            found = list(traces.find_traces(conn, pattern, business))
        if not found:
            break
        places = iter(found)
        while piece := list(islice(places, AT_ONCE)):
            with database.write() as conn:
                for trace in piece:
                    traces.erase_trace(conn, pattern, trace)
        counted.update(trace.title for trace in found)
        touched |= {trace.business_id for trace in found if trace.business_id is not None}
    return counted, touched


def _settle(database: Database, touched: set[int]) -> None:
    """After clearing, once for all that was cleared: it makes the whole index of words again."""
    with database.write() as conn:
        traces.erase_pictures(conn, sorted(touched))
        traces.settle(conn, sorted(touched))
    grid_file.forget(database)


def erase_person(folder: Path, database: Database, subject: Subject) -> Erasure:
    """Erase somebody everywhere, keep their hashes, and overwrite what was freed. Blocks for as long as that takes."""
    pattern, key = pattern_of(subject), installation_key(folder)
    hashes = [(kind, fingerprint_of(key, kind, value)) for kind, value in subject.known_by()]
    with database.write() as conn:
        traces.keep_hashes(conn, hashes, utc_now())
    counted, touched = _clear(database, pattern)
    _settle(database, touched)
    files = list(_files(folder, pattern))
    for path in files:
        path.unlink()
    database.compact()
    return Erasure(
        counted.total(), dict(counted.most_common()), sorted(touched),
        [str(path.relative_to(folder)) for path in files], _left(folder),
    )  # fmt: skip


def _left(folder: Path) -> list[str]:
    """What holds an earlier state and is not ours to change."""
    aside = sorted(path.name for path in folder.glob(f"{KEPT_ASIDE}*"))
    return [
        "Backups made before today still hold this person. Erase them again after restoring one.",
        *(
            f"The folder {name} holds the data from before a restore. Delete it if you no longer need it."
            for name in aside
        ),
        "Files delivered outside the data folder, and what you sent to other programs, are not changed.",
    ]


def erase_returned(folder: Path, database: Database) -> int:
    """Erase again the people that a source has brought back; return how many. After each run and import."""
    with database.read() as conn:
        hashes = traces.erased_hashes(conn)
        known = traces.known_addresses(conn) if hashes else []
    key = installation_key(folder)
    back = [(kind, value) for kind, value in known if fingerprint_of(key, kind, value) in hashes]
    if not back:
        return 0
    emails, phones = (tuple(value for kind, value in back if kind == wanted) for wanted in ("email", "phone"))
    _, touched = _clear(database, pattern_of(Subject(emails, phones)))
    _settle(database, touched)
    return len(back)


def remove_untouched(database: Database, months: int) -> int:
    """Remove people's data of businesses that nobody has touched for so many months; return how many businesses. 0: never."""
    if not months:
        return 0
    before = (now() - MONTH * months).isoformat(timespec="seconds")
    with database.read() as conn:
        found = {business: _everybody(conn, business) for business in register.untouched(conn, before, 10_000)}
    for business, subject in found.items():
        if subject.known_by():
            _clear(database, pattern_of(subject), business)
        with database.write() as conn:
            register.drop_contacts(conn, business)
    if found:
        _settle(database, set(found))
        database.compact()
    return len(found)


def _everybody(conn: sqlite3.Connection, business: int) -> Subject:
    """All people of one business, by each address, number and name that is known. A name that is the business's own stays."""
    known = register.contacts_of(conn, business)
    row, audit = businesses.get_business(conn, business), audits.get_evidence(conn, business)
    people = people_at(conn, row, audit, audits.list_contacts(conn, business))
    return Subject(
        emails=tuple(value for kind, value in known if kind == "email"),
        phones=tuple(value for kind, value in known if kind == "phone" and _is_number(value)),
        names=tuple(person.name for person in people if " " in person.name and person.name not in row["name"]),
    )


def _is_number(value: str) -> bool:
    try:
        phonenumbers.parse(value)
    except phonenumbers.NumberParseException:
        return False
    return True
