"""A person's traces in texts, as other people's pages and files write them."""

import json
import string

import phonenumbers
import pytest
from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.privacy.traces import REMOVED, NobodyMeant, Subject, erased, pattern_of, subject_of

NORA = subject_of(["nora.quill@gull.example"], ["(03) 5550 1234"], ["Nora Quill", "Leif Sørland"], "AU")
WRITTEN = [
    "nora.quill@gull.example", "NORA.QUILL@Gull.Example", "mailto:nora.quill%40gull.example", "nora.quill (at) gull.example",
    "nora.quill&#64;gull.example", "(03) 5550 1234", "+61 3 5550 1234", "+61355501234", "0061 3 5550 1234", "03-5550-1234", "03 55 50 12 34",
    "03.5550.1234", "+61 (0)3 5550 1234", "tel:0355501234", "Nora Quill", "nora  quill", "Quill, Nora", "nora-quill", "Nora_Quill", "NORA QUILL",
    "Leif Sørland", json.dumps("Leif Sørland"),
]  # fmt: skip
NOT_THEM = [
    "nora.quills@gull.example", "eleanora.quill@gull.example", "03 5550 12345", "9035550123456",
    "Nora Quilling", "Honora Quill", "Nora", "Quill & Co", "5550 1234",
]  # fmt: skip


@pytest.mark.parametrize("text", WRITTEN)
def test_each_way_of_writing_is_found_and_nothing_else_goes(text: str) -> None:
    before, after = "Ask for ", " before noon, 12.50 each"
    left = erased(pattern_of(NORA), before + text + after)
    assert REMOVED in left
    assert left.startswith(before)
    assert left.endswith(after)
    for part in ("quill", "5550", "1234", "sørland", "rland"):
        assert part not in left.lower()


@pytest.mark.parametrize("text", NOT_THEM)
def test_others_stay(text: str) -> None:
    assert erased(pattern_of(NORA), text) == text


@pytest.mark.parametrize(
    "bad",
    [{}, {"emails": ["nora"]}, {"phones": ["call me"]}, {"phones": ["12345"]}, {"names": ["Nora"]}, {"names": ["A B"]}],
)
def test_who_is_not_one_person_is_refused(bad: dict[str, list[str]]) -> None:
    with pytest.raises(NobodyMeant):
        subject_of(bad.get("emails", []), bad.get("phones", []), bad.get("names", []), "AU")


WORD = st.text(string.ascii_letters, min_size=3, max_size=9)


@given(
    st.lists(WORD, min_size=2, max_size=3),
    st.text(max_size=60),
    st.text(max_size=60),
    st.sampled_from([" ", "  ", "-", "_", ".", "\u00a0"]),
)
def test_no_trace_is_left_and_erasing_twice_is_erasing_once(
    words: list[str], before: str, after: str, between: str
) -> None:
    pattern = pattern_of(Subject(names=(" ".join(words),)))
    once = erased(pattern, f"{before} {between.join(words)} {after}")
    assert not pattern.search(once)
    assert erased(pattern, once) == once


@pytest.mark.parametrize("region", ["AU", "DE", "FR", "GB", "IT", "NL", "US", "BR", "SE"])
def test_a_number_is_found_as_the_phone_library_writes_it_in_each_country(region: str) -> None:
    """Ways of writing by Google's libphonenumber: national, international, RFC 3966, E.164."""
    number = phonenumbers.example_number(region)
    assert number is not None
    subject = subject_of([], [phonenumbers.format_number(number, phonenumbers.PhoneNumberFormat.E164)], [], None)
    for form in range(4):
        written = phonenumbers.format_number(number, form)
        assert erased(pattern_of(subject), f"Call {written} now").count(REMOVED) == 1, written
