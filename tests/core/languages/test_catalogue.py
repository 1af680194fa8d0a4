"""Owners' sentences in six languages: none missing, none that promises a value it is not given, short enough as messages."""

import ast
import re
from datetime import UTC, datetime
from pathlib import Path

import phonenumbers
import pytest
from babel.core import get_global
from babel.messages.catalog import Message
from hypothesis import assume, given
from hypothesis import strategies as st

from openacorn.core.audit.check import all_checks, check_ids
from openacorn.core.languages.catalogue import ENGLISH, LANGUAGES, Translator, read_catalogue
from openacorn.core.languages.choice import language_for, languages_of
from openacorn.core.outreach.answers import is_opt_out
from openacorn.core.outreach.message_check import check_message
from openacorn.core.outreach.message_kind import MessageKind
from openacorn.core.outreach.message_template import MessageFact, check_template, write
from openacorn.core.outreach.template_language import in_language, language_barrier
from openacorn.outreach.template_library import shipped_templates
from tests.outreach.test_shipped_templates import FACTS
from tools import translations

OTHERS = [code for code in LANGUAGES if code != ENGLISH]
BLANK = re.compile(r"\{\d\}|\{[a-z]+\}|%\([a-z]+\)s|\{\{[^}]*\}\}|\{%[^%]*%\}")
MAY_BE_LEFT_OUT = {
    "{trades}",
    "{{ trades }}",
    "{{ trades|capitalize }}",
    "{last}",
    "{1}",
    "{2}",
    "{n}",
    "%(n)s",
    "{{ business }}",
}
"""The trade, as we do not know it in other languages; the name, where a text would be too long; an English plural's s."""


@pytest.mark.parametrize("language", OTHERS)
def test_every_sentence_is_there_with_what_it_is_given(language: str) -> None:
    found = read_catalogue(language)
    lacking, strange = [], []
    for sentence in translations.sentences():
        key = sentence if isinstance(sentence, str) else sentence[0]
        entry = found.get(key)
        said = (
            list(entry.string) if entry and isinstance(entry.string, tuple | list) else [entry.string if entry else ""]
        )
        if not all(said):
            lacking.append(key)
        given_to_it = set(BLANK.findall(" ".join(sentence) if isinstance(sentence, tuple) else sentence))
        given_to_it |= {"{last}"} if key == "Hello {first}," else set()
        for form in map(str, said):
            used = set(BLANK.findall(form))
            if used - given_to_it or given_to_it - used - MAY_BE_LEFT_OUT:
                strange.append((key, form))
    assert (lacking, strange) == ([], [])
    assert {str(entry.id) for entry in found if entry.id and isinstance(entry.id, str)} <= {
        sentence for sentence in translations.sentences() if isinstance(sentence, str)
    }, "sentences that nobody says any more"


def test_what_the_owners_page_is_made_of_is_among_the_sentences() -> None:
    """Read off the code in another way: every literal that the page's sentences hand to a translator."""
    known = {text for item in translations.sentences() for text in ([item] if isinstance(item, str) else item)}
    tree = ast.parse(Path("openacorn/core/report/page_sentences.py").read_text(encoding="utf-8"))
    calls = [
        node
        for node in ast.walk(tree)
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute | ast.Name)
    ]
    handed = {
        arg.value for call in calls for arg in call.args if isinstance(arg, ast.Constant) and isinstance(arg.value, str)
    }
    assert len(handed) >= 15
    assert handed <= known


@pytest.mark.parametrize("language", OTHERS)
def test_shipped_templates_fit_in_it(language: str) -> None:
    words = Translator(language)
    facts = dict(FACTS)
    facts |= {key: words.text(text) for key, text in FACTS.items() if key in {"claim", "why", "remedy"}}
    facts |= {
        "greeting": words.text("Hello {first},", first="Anneliese", last="Vandermolen"),
        "seen_on": words.day("2026-09-30"),
    }
    known = {name: MessageFact(value, "known") for name, value in facts.items()}
    for template in shipped_templates().values():
        made = in_language(template, language)
        assert made.language == language, template.id
        check_template(made.subject, check_ids())
        check_template(made.text, check_ids())
        subject, text = (write(part, known, (), ()).text for part in (made.subject, made.text))
        assert check_message(made.kind, subject, text, language) == [], (template.id, text)


def test_a_text_of_the_users_own_stays_as_it_is_and_goes_to_whom_it_fits() -> None:
    shipped = next(item for item in shipped_templates().values() if item.kind is MessageKind.EMAIL)
    own = in_language(
        type(shipped)("own", MessageKind.EMAIL, "Own", "A sentence of mine.\n\nKind regards", "Mine"), "de"
    )
    assert (own.text, own.language) == ("A sentence of mine.\n\nKind regards", "en")
    german = type(shipped)("own", MessageKind.EMAIL, "Own", "Guten Tag", "Meins", language="de")
    assert [language_barrier(german, code) for code in ("de", "fr")] == [
        "",
        "it is in German, and the owner reads French",
    ]
    assert language_barrier(own, "fr") == ""


SEEN = {
    "the certificate lapsed 12 days ago": "das Zertifikat ist vor 12 Tagen abgelaufen",
    "1,250 pictures of 200 kB and more": "1.250 Bilder von 200 kB und mehr",
    "4.6 MB to load": "4,6 MB zu laden",
    "browsers warn visitors: the certificate is expired": "Browser warnen Besucher: das Zertifikat ist abgelaufen",
    "the tag in place has collected nothing since 1 July 2023": "die eingebaute Messung sammelt seit dem 1. Juli 2023 nichts mehr",
    "an h4 follows an h2: a level is left out": "h4 folgt auf h2: eine Ebene ist ausgelassen",
    "the size of 1 file is not known": "die Größe von 1 Dateien ist nicht bekannt",
}


def test_findings_are_said_with_their_own_values() -> None:
    words = Translator("de")
    assert {english: words.sentence(english) for english in SEEN} == SEEN
    assert words.missing == set()
    assert words.sentence("something that no check says") == "something that no check says"
    assert words.missing == {"something that no check says"}


@given(st.text(max_size=40), st.sampled_from(OTHERS))
def test_what_a_business_wrote_is_never_translated_or_lost(name: str, language: str) -> None:
    assume(not (name[:1].islower() and Translator(language).knows(name)))  # a word of ours
    said = Translator(language).sentence(f"the listed site is somebody else's: {name}")
    assert not name or name in said or Translator(language).numbers(name) in said


@pytest.mark.parametrize(("language", "day", "number"), [
    ("en", "4 March 2026", "1,234.5"), ("de", "4. März 2026", "1.234,5"), ("fr", "4 mars 2026", "1\u202f234,5"),
    ("es", "4 de marzo de 2026", "1234,5"), ("it", "4 marzo 2026", "1234,5"), ("pt", "4 de março de 2026", "1.234,5"),
    ("nl", "4 maart 2026", "1.234,5"),
])  # fmt: skip
def test_days_and_numbers_are_written_as_there(language: str, day: str, number: str) -> None:
    """As the Unicode locale data (CLDR) print them; from memory of its charts. Some leave four digits ungrouped in newer versions."""
    words = Translator(language)
    assert words.day(datetime(2026, 3, 4, 9, tzinfo=UTC).isoformat()) == day
    assert words.number(1234.5).replace(".", "").replace(",", "").replace("\u202f", "") == "12345"
    assert words.number(1234.5)[-2:] == number[-2:]


@pytest.mark.parametrize(("by_hand", "of_list", "site", "country", "expected"), [
    ("", "", "", "DE", "de"), ("", "", "", "AT", "de"), ("", "", "fr-CH", "CH", "fr"), ("", "", "", "CH", "de"),
    ("", "", "fr", "BE", "fr"), ("", "", "", "BE", "nl"), ("", "", "fr", "AU", "en"), ("", "", "es", "US", "es"),
    ("", "", "", "BR", "pt"), ("", "", "", "MX", "es"), ("", "", "pl", "PL", "en"), ("", "", "de", "", "de"),
    ("", "it", "de", "DE", "it"), ("en", "it", "de", "DE", "en"), ("", "", "", "", "en"), ("", "", "ja", "JP", "en"),
    ("", "", "fr", "CA", "fr"), ("xx", "yy", "", "NL", "nl"),
])  # fmt: skip
def test_the_language_is_chosen_by_what_is_nearest(
    by_hand: str, of_list: str, site: str, country: str, expected: str
) -> None:
    assert language_for(by_hand, of_list, site, country) == expected


def test_no_country_has_a_language_that_is_not_ours() -> None:
    """Against CLDR's own table of what is spoken where, and the phone library's list of countries."""
    spoken = get_global("territory_languages")
    for country in phonenumbers.SUPPORTED_REGIONS:
        for code in languages_of(country):
            assert code in LANGUAGES
            assert country not in spoken or any(tag.split("_")[0] == code for tag in spoken[country]), country


@pytest.mark.parametrize("language", OTHERS)
def test_the_way_out_that_a_message_names_is_understood(language: str) -> None:
    said = Translator(language).text('To hear no more from us, answer with "stop".')
    word = re.search(r"[„«]\s?(\w+)\s?[“”»]", said)
    assert word, said
    assert is_opt_out("", word[1])


def test_every_check_that_owners_read_has_its_words() -> None:
    words = Translator("nl")
    for check in all_checks():
        if check.owner:
            for text in (check.owner.topic, check.owner.claim, check.owner.partly, check.owner.remedy, check.why):
                assert words.knows(text), text


def test_the_catalogues_are_whole_files() -> None:
    for language in OTHERS:
        entries = [entry for entry in read_catalogue(language) if entry.id]
        assert all(isinstance(entry, Message) and not entry.fuzzy for entry in entries)
