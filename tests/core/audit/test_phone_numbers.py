"""Telephone numbers read by the library's tables, beside the library itself (PyPI phonenumbers): not one may differ."""

import random

import phonenumbers
import pytest
from hypothesis import example, given
from hypothesis import strategies as st
from phonenumbers import PhoneNumberFormat, PhoneNumberType

from openacorn.core.audit.extract.phone_numbers import USUAL, _read, parse_phone

REGIONS = sorted(phonenumbers.SUPPORTED_REGIONS)
FORMS = (PhoneNumberFormat.NATIONAL, PhoneNumberFormat.INTERNATIONAL, PhoneNumberFormat.E164)


def by_the_library(raw: str, region: str | None) -> str | None:
    try:
        number = phonenumbers.parse(raw, region)
    except phonenumbers.NumberParseException:
        return None
    return phonenumbers.format_number(number, PhoneNumberFormat.E164) if phonenumbers.is_valid_number(number) else None


@pytest.mark.parametrize("region", REGIONS)
def test_every_regions_example_numbers_and_slips_of_them(region: str) -> None:
    rng = random.Random(region)
    examples = (phonenumbers.example_number_for_type(region, kind) for kind in PhoneNumberType.values())
    for number in filter(None, examples):
        for form in FORMS:
            written = phonenumbers.format_number(number, form)
            slips = [written]
            for _ in range(6):
                at = rng.randrange(len(written))
                slips.append(
                    written[:at] + rng.choice(["", "0", "1", "9", " ", "5"]) + written[at + rng.randrange(2) :]
                )
            for raw in slips:
                for home in (region, None, "AU"):
                    assert parse_phone(raw, home) == by_the_library(raw, home), (raw, home)


@given(st.from_regex(USUAL, fullmatch=True), st.sampled_from([None, *REGIONS]))
@example("0011 44 20 7946 0958", "AU")  # dialled from there to another country
@example("61 8 9123 4567", "AU")  # the country's code without its plus
@example("044 668 18 00", "CH")
def test_whatever_is_written_in_digits_and_marks(raw: str, region: str | None) -> None:
    assert parse_phone(raw, region) == by_the_library(raw, region)


def test_the_usual_ones_are_read_without_the_library() -> None:
    for raw, region in (
        ("(08) 9123 4567", "AU"),
        ("+61 412 345 678", None),
        ("(212) 555-0123", "US"),
        ("12/05/2024", "AU"),
    ):
        assert _read(raw, region) is not None
