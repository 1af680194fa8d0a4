"""Telephone numbers as E.164, by the tables of the `phonenumbers` library.

The library reads one number in about 0.1 ms; a page has hundreds of candidates, an import a million numbers. Numbers written
in digits and the usual marks are read here from the same tables, whatever is unusual about them by the library itself.
"""

import re
from dataclasses import dataclass
from functools import cache, lru_cache

import phonenumbers
from phonenumbers import PhoneMetadata

USUAL = re.compile(r"\+?[0-9 ().\-/]{2,40}")
_NO_DIGIT = re.compile(r"\D+")
LONGEST_COUNTRY_CODE = 3
TYPES = (
    "fixed_line", "mobile", "toll_free", "premium_rate", "shared_cost", "voip", "personal_number", "pager", "uan", "voicemail",
)  # fmt: skip
"""Kinds of number that make one valid, as in the library's `is_valid_number`."""


@dataclass(frozen=True, slots=True)
class _Plan:
    """How numbers of a country code are written. valid: any kind of number in any of its regions."""

    code: str
    general: re.Pattern[str]
    lengths: frozenset[int]
    prefix: re.Pattern[str] | None
    """What stands before a national number where it is dialled in the country."""

    rewriting: bool
    """Can the prefix change the number? Where it does, the library reads it."""

    abroad: re.Pattern[str] | None
    """What is dialled before another country's code."""

    valid: tuple[tuple[frozenset[int], re.Pattern[str]], ...]


def _kinds(regions: tuple[str, ...], code: int) -> tuple[tuple[frozenset[int], re.Pattern[str]], ...]:
    """(possible lengths, one pattern for all kinds of number that have these)."""
    patterns: dict[frozenset[int], list[str]] = {}
    for table in filter(None, (_table(region, code) for region in regions)):
        general = table.general_desc.possible_length if table.general_desc else ()
        for kind in filter(None, (getattr(table, name) for name in TYPES)):
            if kind.national_number_pattern:
                lengths = frozenset(kind.possible_length or general)
                patterns.setdefault(lengths, []).append(f"(?:{kind.national_number_pattern})")
    return tuple((lengths, re.compile("|".join(found))) for lengths, found in patterns.items())


def _table(region: str, code: int) -> PhoneMetadata | None:
    if region == "001":
        return PhoneMetadata.metadata_for_nongeo_region(code, None)
    return PhoneMetadata.metadata_for_region(region, None)


@cache
def _plan(code: int) -> _Plan | None:
    """The plan of a country code; None if there is no such code, or its regions are told apart by leading digits."""
    regions = phonenumbers.COUNTRY_CODE_TO_REGION_CODE.get(code, ())
    table = _table(regions[0], code) if regions else None
    if table is None or table.general_desc is None or not table.general_desc.national_number_pattern:
        return None
    prefix = table.national_prefix_for_parsing
    return _Plan(
        str(code),
        re.compile(table.general_desc.national_number_pattern),
        frozenset(table.general_desc.possible_length),
        re.compile(prefix) if prefix else None,
        bool(table.national_prefix_transform_rule),
        re.compile(table.international_prefix) if table.international_prefix else None,
        _kinds(regions, code),
    )


@cache
def _plan_of(region: str) -> _Plan | None:
    """The plan of a region, where its numbers are read as its country code's first region reads them."""
    code = phonenumbers.country_code_for_region(region)
    if not code or phonenumbers.COUNTRY_CODE_TO_REGION_CODE[code][0] != region:
        return None
    return _plan(code)


@lru_cache(maxsize=16384)
def parse_phone(raw: str, region: str | None) -> str | None:
    """Return the number as E.164 if it is valid, else None. `region` (ISO 3166) reads national formats."""
    if USUAL.fullmatch(raw):
        read = _read(raw, region)
        if read is not None:
            return read or None
    return read_by_library(raw, region)


def read_by_library(raw: str, region: str | None) -> str | None:
    """The same by the library alone."""
    try:
        number = phonenumbers.parse(raw, region)
    except phonenumbers.NumberParseException:
        return None
    if not phonenumbers.is_valid_number(number):
        return None
    return phonenumbers.format_number(number, phonenumbers.PhoneNumberFormat.E164)


def _read(raw: str, region: str | None) -> str | None:
    """E.164, "" if the number is not valid, None if the library has to say."""
    digits = _NO_DIGIT.sub("", raw)
    if raw.startswith("+"):
        plan = next(
            (p for n in range(1, LONGEST_COUNTRY_CODE + 1) if digits[:n] and (p := _plan(int(digits[:n])))), None
        )
        if plan is None or digits.startswith("0"):
            return None
        return _national(digits[len(plan.code) :], plan)
    plan = _plan_of(region) if region else None
    if plan is None or (plan.abroad and plan.abroad.match(digits)):
        return None
    if digits.startswith(plan.code):  # with the country's code and no plus, perhaps
        return None
    return _national(digits, plan)


def _national(digits: str, plan: _Plan) -> str | None:
    number = digits
    prefix = plan.prefix.match(digits) if plan.prefix else None
    if prefix and plan.rewriting and prefix.lastindex:
        return None
    if prefix and prefix.end():
        bare = digits[prefix.end() :]
        if not (plan.general.fullmatch(digits) and not plan.general.fullmatch(bare)):
            if len(bare) not in plan.lengths:
                return None  # too short without it, and the like
            number = bare
    if number.startswith("0") or not number:
        return None
    if not plan.general.fullmatch(number):
        return ""
    known = any(len(number) in lengths and kind.fullmatch(number) for lengths, kind in plan.valid)
    return f"+{plan.code}{number}" if known else ""
