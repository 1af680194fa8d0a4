"""A verifier's table: which of its columns says what, and its rows as results."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from enum import StrEnum

from openacorn.core.audit.extract.emails import clean_email
from openacorn.core.audit.extract.phone_numbers import parse_phone
from openacorn.core.audit.verification import Line, Stage, VerificationResult, Verified
from openacorn.errors import InvalidInput

DETAIL_KEPT = 80


class VerdictsError(InvalidInput):
    """A verifier's file that cannot be read; the message says what is missing."""

    where = "text"
    remedy = "name the columns email and result"


class Part(StrEnum):
    """What a column can hold."""

    ADDRESS = "address"
    RESULT = "result"
    STAGE = "stage"
    LINE = "line"
    AT = "at"


HEADS: Mapping[Part, tuple[str, ...]] = {
    Part.ADDRESS: ("email", "e-mail", "mail", "address", "email_address", "phone", "phone_number", "number", "msisdn", "mobile"),
    Part.RESULT: ("result", "status", "state", "verdict", "deliverability", "verification", "valid", "reachable"),
    Part.STAGE: ("stage", "reason", "sub_status", "substatus", "step"),
    Part.LINE: ("line_type", "line", "phone_type", "number_type", "type", "carrier_type"),
    Part.AT: ("checked_at", "verified_at", "processed_at", "when", "date", "timestamp", "at"),
}  # fmt: skip
"""Headings that say it, the plainest first (common practice)."""

RESULTS: tuple[tuple[VerificationResult, frozenset[str]], ...] = tuple(
    (result, frozenset(words.split()))
    for result, words in (
        (
            VerificationResult.DEAD,
            "invalid undeliverable bad dead bounce bounced hard_bounce rejected fail failed no false",
        ),
        (VerificationResult.DEAD, "disconnected unreachable inactive"),
        (
            VerificationResult.RISKY,
            "risky catchall catch_all accept_all acceptall accept_all_unverifiable spamtrap role",
        ),
        (VerificationResult.VALID, "valid deliverable ok good verified safe pass yes true active connected reachable"),
    )
)
"""Words that verifiers use for their results (common practice)."""

LINES: tuple[tuple[Line, frozenset[str]], ...] = (
    (Line.VOIP, frozenset("voip virtual non_fixed_voip nonfixedvoip fixed_voip fixedvoip internet_line".split())),
    (Line.MOBILE, frozenset("mobile cell cellular cellphone wireless".split())),
    (Line.LANDLINE, frozenset("landline land_line fixed fixed_line fixedline geographic".split())),
)  # fmt: skip
"""Words for line types (common practice)."""

STAGES: tuple[tuple[Stage, frozenset[str]], ...] = (
    (Stage.SYNTAX, frozenset("syntax format regex failed_syntax_check".split())),
    (Stage.DOMAIN, frozenset("domain dns invalid_domain no_dns_entries".split())),
    (Stage.MX, frozenset("mx mail_server no_mx mx_record".split())),
    (Stage.MAILBOX, frozenset("mailbox smtp mailbox_not_found rejected_email accepted_email".split())),
)  # fmt: skip
"""Words for how far an address was followed (common practice); any other is kept as what was said."""


def _word(text: str) -> str:
    return re.sub(r"[^a-z]+", "_", text.strip().lower()).strip("_")


def read_result(text: str) -> VerificationResult:
    """A verifier's word as a result; unknown where it is none that is known."""
    return next((result for result, words in RESULTS if _word(text) in words), VerificationResult.UNKNOWN)


def read_line(text: str) -> Line:
    """A verifier's word as a line type."""
    return next((line for line, words in LINES if _word(text) in words), Line.UNSTATED)


def _read_stage(text: str) -> Stage:
    return next((stage for stage, words in STAGES if _word(text) in words), Stage.OUTSIDE)


def _read_time(text: str, otherwise: str) -> str:
    """A time of day or a date by ISO 8601, UTC where it names no zone; anything else could be read two ways."""
    try:
        parsed = datetime.fromisoformat(text.strip())
    except ValueError:
        return otherwise
    return (parsed if parsed.tzinfo else parsed.replace(tzinfo=UTC)).astimezone(UTC).isoformat(timespec="seconds")


@dataclass(frozen=True, slots=True)
class VerdictColumns:
    """The heading of each part, "" where the table has none."""

    address: str = ""
    result: str = ""
    stage: str = ""
    line: str = ""
    at: str = ""


def guess_columns(heads: Sequence[str]) -> VerdictColumns:
    """Which column says what, by the words that head it; a column serves for one part."""
    by_name = {re.sub(r"[^a-z-]+", "_", head.strip().lower()).strip("_"): head for head in heads}
    found: dict[str, str] = {}
    for part, names in HEADS.items():
        free = (by_name[name] for name in names if name in by_name and by_name[name] not in found.values())
        found[part] = next(free, "")
    return VerdictColumns(**found)


def _check(columns: VerdictColumns, heads: Sequence[str]) -> None:
    there = f"there are {', '.join(heads) or 'none'}"
    for part in Part:
        head = getattr(columns, part)
        if head and head not in heads:
            raise VerdictsError(f"there is no column {head!r}; {there}")
    if not columns.address:
        raise VerdictsError(
            f"no column for the address: say which one holds it, or head it 'email' or 'phone'; {there}"
        )
    if not columns.result and not columns.line:
        raise VerdictsError(f"no column for the result: say which one holds it, or head it 'result'; {there}")


def read_table(
    rows: Sequence[Mapping[str, str]], at: str, region: str | None, columns: VerdictColumns | None = None
) -> tuple[list[Verified], list[int]]:
    """(results, numbers of the rows that hold neither address nor number) of a verifier's table.

    `at`: ISO 8601, for rows that do not say when; `region`: where national numbers are from. Raises VerdictsError.
    """
    if not rows:
        raise VerdictsError("the file holds no rows")
    heads = [head for head in rows[0] if head]
    columns = columns or guess_columns(heads)
    _check(columns, heads)
    found, strange = [], []
    for number, row in enumerate(rows, start=2):
        cells = {part: str(row.get(getattr(columns, part)) or "").strip() for part in Part}
        address = clean_email(cells[Part.ADDRESS]) or parse_phone(cells[Part.ADDRESS], region)
        if address is None:
            strange.append(number)
            continue
        parsed = ", ".join(filter(None, (cells[Part.RESULT], cells[Part.STAGE], cells[Part.LINE])))
        found.append(
            Verified(
                address, read_result(cells[Part.RESULT]), _read_stage(cells[Part.STAGE]), parsed[:DETAIL_KEPT],
                _read_time(cells[Part.AT], at), read_line(cells[Part.LINE]) if address.startswith("+") else Line.UNSTATED,
            )
        )  # fmt: skip
    return found, strange
