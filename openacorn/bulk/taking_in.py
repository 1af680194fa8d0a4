"""Taking a file of everything in: the listings are merged as a source's are, and what the agency did is added to what is held.

Done twice it changes nothing. What is newer here stays: an audit, a place on a list, a correction of the user's own.
"""

import sqlite3
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from itertools import islice
from typing import IO

import orjson
from pydantic import TypeAdapter, ValidationError

from openacorn.audit.reputation import ReputationAuditor
from openacorn.bulk.errors import BulkError
from openacorn.bulk.schemas.lines import VERSION, BusinessLine, Header, TakenIn, VerdictLine
from openacorn.bulk.store import records
from openacorn.business.store import (
    audits,
    businesses,
    listings,
    membership,
    outcomes,
    own_trades,
    relationships,
    verdicts,
)
from openacorn.business.store.audits import StoredAudit
from openacorn.business.store.outcomes import SalesOutcome
from openacorn.clock import utc_now
from openacorn.core.audit.finding import Finding
from openacorn.core.gather.listing import Listing
from openacorn.core.match.relationship import Identifier
from openacorn.core.trades.catalogue import made_trade
from openacorn.db.database import Database
from openacorn.errors import AcornError
from openacorn.gather.reach import source_titles
from openacorn.gather.sources._source import all_sources
from openacorn.match import user_decisions
from openacorn.match.merging import merge_new_listings
from openacorn.match.recluster import refresh_relationships, refresh_relevance
from openacorn.runs.store import sweeps
from openacorn.score.scorer import Scorer
from openacorn.settings import Settings

AT_ONCE = 100
"""Lines in one transaction: other writers have their turn between two."""

REFUSED_SHOWN = 200
LONGEST_LINE = 16 * 1024 * 1024
CANNOT_BE_STORED = (OverflowError, ValueError, TypeError, sqlite3.IntegrityError, sqlite3.DataError)
"""What numbers without measure and the like end in, on the way into the store."""

_LISTING: TypeAdapter[Listing] = TypeAdapter(Listing)
_FINDINGS: TypeAdapter[dict[str, Finding]] = TypeAdapter(dict[str, Finding])


@dataclass(slots=True)
class _Count:
    """The result of the lines so far."""

    taken: set[int] = field(default_factory=set)
    refused: list[str] = field(default_factory=list)
    all_refused: int = 0

    def refuse(self, number: int, why: str) -> None:
        self.all_refused += 1
        if len(self.refused) < REFUSED_SHOWN:
            self.refused.append(f"line {number}: {why}")


@dataclass(frozen=True, slots=True)
class _Parsed:
    """A line that can be used."""

    number: int
    line: BusinessLine
    listings: list[Listing]
    audit: StoredAudit | None


def _audit_of(line: BusinessLine) -> StoredAudit | None:
    """The audit of a line, of no business yet; its pages are not in the file. Raises ValidationError."""
    if line.audit is None:
        return None
    around = orjson.dumps({"search": None, "names": None, "people": None, **line.audit.beyond}).decode()
    audits.unpack_offsite(around)
    found = _FINDINGS.validate_python({item.check: item.model_dump(exclude={"check"}) for item in line.findings})
    contacts = [(item.kind, item.value, item.how, item.url, item.snippet) for item in line.contacts]
    about = line.audit
    return StoredAudit(0, about.website, about.at, 0.0, None, (), found, contacts, found=about.found, around=around)


def _verdict_of(line: BusinessLine) -> VerdictLine | None:
    """The user's word; else that of the rules of a sweep there, which is not here to say it again."""
    ruled = str(line.business.get("rejected") or "")
    return line.verdict or (VerdictLine(verdict="rejected", reason=ruled) if ruled else None)


def lines_of(file: IO[bytes]) -> Iterator[bytes]:
    """The lines of a file; of one that is too long its beginning, which is refused, and nothing of the rest."""
    while line := file.readline(LONGEST_LINE + 1):
        yield line
        while len(line) > LONGEST_LINE and not line.endswith(b"\n") and (line := file.readline(LONGEST_LINE + 1)):
            pass


def _why(error: ValidationError) -> str:
    """The first thing that is wrong with a line, in words."""
    first = error.errors(include_url=False, include_input=False)[0]
    return f"{'.'.join(map(str, first['loc']))}: {first['msg']}" if first["loc"] else str(first["msg"])


def _read_header(line: bytes) -> Header:
    """Raises BulkError."""
    try:
        header = Header.model_validate_json(line)
    except ValidationError as error:
        raise BulkError(f"its first line does not say that it is a file of everything ({_why(error)})") from None
    if header.open_acorn > VERSION:
        raise BulkError(f"it was written by a newer version of this program (its shape is {header.open_acorn})")
    return header


class TakingIn:
    """Takes one file in."""

    def __init__(self, database: Database, settings: Settings) -> None:
        self._database, self._settings = database, settings
        self._count = _Count()
        self._header: Header | None = None
        self._own: frozenset[str] = frozenset()
        """Ids of the sources that are the same here as there."""
        self._trades: frozenset[str] = frozenset()
        self._run = 0

    def take(self, lines: Iterable[bytes]) -> TakenIn:
        """Take in every line that can be used. Raises BulkError for a file that begins wrongly."""
        numbered = enumerate(lines, start=1)
        header = _read_header(next(numbered, (1, b""))[1])
        with self._database.write() as conn:
            before = records.count_businesses(conn)
            self._begin(conn, header)
        try:
            while batch := list(islice(self._parsed(numbered), AT_ONCE)):
                self._take_some(batch)
            self._settle()
        except BaseException:
            self._end("failed", "the file could not be taken in whole", "take the same file in again")
            raise
        self._end("done")
        with self._database.read() as conn:
            after = records.count_businesses(conn)
        done = self._count
        new = max(0, after - before)
        return TakenIn(
            businesses=len(done.taken), new=new, already_here=len(done.taken) - new, refused=done.refused,
            all_refused=done.all_refused,
        )  # fmt: skip

    def _end(self, state: str, why: str = "", remedy: str = "") -> None:
        with self._database.write() as conn:
            sweeps.set_state(conn, self._run, state, at=utc_now(), why=why, remedy=remedy)

    def _take_some(self, batch: list[_Parsed]) -> None:
        """Store lines in one transaction; if one of them cannot be stored, store each in its own, so that the others are kept."""
        try:
            with self._database.write() as conn:
                self._take_batch(conn, batch)
        except CANNOT_BE_STORED as error:
            if len(batch) == 1:
                self._count.refuse(batch[0].number, f"it cannot be stored ({error})")
                return
            for one in batch:
                self._take_some([one])

    def _settle(self) -> None:
        """Chains, relationships and scores, once every business that they depend on is there."""
        refresh_relevance(self._database, self._settings)
        with self._database.write() as conn:
            stood = refresh_relationships(conn, self._settings)
        left = iter(sorted({*self._count.taken, *stood}))
        while piece := list(islice(left, AT_ONCE)):
            with self._database.write() as conn:
                ReputationAuditor(conn).judge(piece)
                Scorer(conn).score(piece)

    def _begin(self, conn: sqlite3.Connection, header: Header) -> None:
        """Trades of the agency's own, and businesses not to contact, before any is judged by them."""
        at = utc_now()
        for trade in header.trades:
            known = own_trades.trades_there(conn)
            if not any(item.label.lower() == trade.label.lower() for item in known.trades):
                made = made_trade(
                    trade.label, trade.plural, trade.words, trade.parent, (one.id for one in known.trades)
                )
                own_trades.add_trade(conn, made, at)
        self._trades = frozenset(item.id for item in own_trades.trades_there(conn).trades)
        held = relationships.known_relationships(conn)
        for mark in header.relationships:
            if (mark.identifier_type, mark.value) not in held:
                shown = [(Identifier(mark.identifier_type, mark.value), mark.shown)]
                relationships.insert_relationships(conn, mark.kind, shown, at)
        here = source_titles(conn) if header.agency == self._settings.agency else {}
        self._own = frozenset(
            {*all_sources(), *(id_ for id_, title in header.sources.items() if here.get(id_) == title)}
        )
        self._header = header
        sweep = sweeps.gathering_nothing(conn, f"Taken in from {header.agency}", (), at)
        self._run = sweeps.add_run(conn, sweep, at)

    def _parsed(self, numbered: Iterator[tuple[int, bytes]]) -> Iterator[_Parsed]:
        for number, line in numbered:
            if not line.strip():
                continue
            if len(line) > LONGEST_LINE:
                self._count.refuse(number, f"it is longer than {LONGEST_LINE:,} bytes")
                continue
            try:
                yield self._parse(number, BusinessLine.model_validate_json(line))
            except ValidationError as error:
                self._count.refuse(number, _why(error))

    def _parse(self, number: int, line: BusinessLine) -> _Parsed:
        """Raises ValidationError."""
        for item in line.listings:
            item.source = self._source_here(item.source)
            item.trade = item.trade if item.trade in self._trades else ""
        said = [
            _LISTING.validate_python({**item.listing, "source": item.source, "source_id": item.source_id})
            for item in line.listings
        ]
        return _Parsed(number, line, said, _audit_of(line))

    def _source_here(self, source: str) -> str:
        """A source as it is called here: one that only the other installation has (a file, a directory) is named after it."""
        if source in self._own or self._header is None:
            return source
        title = self._header.sources.get(source, source)
        return f"{title} ({self._header.agency}, {source.replace(':', ' ')})"

    def _take_batch(self, conn: sqlite3.Connection, batch: Sequence[_Parsed]) -> None:
        to_merge: list[int] = []
        for one in batch:
            for item, listing in zip(one.line.listings, one.listings, strict=True):
                if records.seen_at(conn, item.source, item.source_id) <= item.seen_at:
                    to_merge += listings.put_listings(conn, self._run, item.trade, [listing], item.seen_at).to_merge
        merge_new_listings(conn, to_merge, self._settings)
        touched, refused = [], list[tuple[int, str]]()
        for one in batch:
            try:
                with records.all_or_nothing(conn):
                    touched.append(self._add(conn, one))
            except AcornError as error:
                refused.append((one.number, str(error)))
        for number, why in refused:
            self._count.refuse(number, why)
        self._count.taken.update(touched)

    def _one_business(self, conn: sqlite3.Connection, line: BusinessLine) -> int:
        """The business of a line; where its listings did not meet here, they are joined. Raises BulkError."""
        found = records.businesses_of(conn, line)
        if not found:
            raise BulkError("its listings are of no business: a register's rows alone make none")
        for other in found[1:]:
            user_decisions.join(conn, found[0], other, self._settings, utc_now())
        return records.businesses_of(conn, line)[0]

    def _add(self, conn: sqlite3.Connection, one: _Parsed) -> int:
        """What the agency found out and did, beside what is there; return the business."""
        line, at = one.line, utc_now()
        business = self._one_business(conn, line)
        held = audits.audited_websites(conn, [business]).get(business)
        if one.audit is not None and (held is None or held[1] < one.audit.at):
            audits.save_audit(conn, replace(one.audit, business_id=business))
        known = businesses.corrections_of(conn, business)
        for name, value in line.corrections.items():
            if name not in known:
                user_decisions.correct(conn, business, name, value, self._settings, at)
        verdict = _verdict_of(line)
        if verdict is not None and not verdicts.get_verdict(conn, [business]):
            verdicts.upsert_verdict(conn, [business], verdict.verdict, verdict.reason, at)
        for tag in line.tags:
            membership.add_tag(conn, [business], tag)
        records.add_memberships(conn, business, line.lists)
        records.add_history(conn, business, line.history)
        have = {item.service for item in outcomes.get_outcome(conn, business)}
        for result in line.results:
            if result.service not in have:
                outcomes.upsert_outcome(conn, business, SalesOutcome(**result.model_dump()))
        return business


def take_in(database: Database, settings: Settings, lines: Iterable[bytes]) -> TakenIn:
    """Take a file of everything in. Raises BulkError."""
    return TakingIn(database, settings).take(lines)
