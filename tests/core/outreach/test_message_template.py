"""Templates say what they were given to say, and reach nothing else."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.audit.check import check_ids
from openacorn.core.outreach.message_template import SLOTS, FactUnknown, MessageFact, TemplateError, write

FACTS = {
    "business": MessageFact("Dr. Tansley & Co. (Vets)", "its listings"),
    "claim": MessageFact(
        "Customers cannot book with you online.", "Online booking: none seen (https://a.example, 2026-11-20)"
    ),
    "reviews": MessageFact(42, "its listings"),
    "page": MessageFact("https://pages.agency.example/o/abc", "the page is shared"),
    "first_name": MessageFact("", ""),
}


def _text(template: str, gaps: tuple[str, ...] = ()) -> str:
    return write(template, FACTS, gaps, check_ids()).text


@pytest.mark.parametrize(
    ("template", "text"),
    [
        ("Hello {{ business }}", "Hello Dr. Tansley & Co. (Vets)"),
        ("Hello{% if first_name %} {{ first_name }}{% endif %},", "Hello,"),
        ('Hello {{ first_name or "there" }}', "Hello there"),
        ("{% if reviews > 40 %}{{ reviews }} reviews{% else %}few{% endif %}", "42 reviews"),
        ("{% if rating > 4 %}good{% else %}not known{% endif %}", "not known"),
        ('{% if gap("booking") %}no booking{% endif %}.', "no booking."),
        ('{% if gap("video") %}no video{% endif %}.', "."),
        ("one\n\n\n\n{% if first_name %}x{% endif %}\n\ntwo   \nthree", "one\n\ntwo\nthree"),
        ("{{ claim|lower }}", "customers cannot book with you online."),
    ],
)
def test_what_is_written(template: str, text: str) -> None:
    assert _text(template, ("booking",)) == text


@pytest.mark.parametrize(
    "template",
    [
        "{{ business.__class__ }}", "{{ business['x'] }}", "{% for x in business %}{% endfor %}", "{% set a = 1 %}",
        "{{ range(9) }}", "{{ gap('nonsense') }}", "{{ gap(business) }}", "{{ 'a' * 99999999 }}", "{{ business + business }}",
        "{% include 'x' %}", "{% import 'x' as y %}", "{% macro a() %}{% endmacro %}", "{{ business|attr('upper') }}",
        "{{ business|replace('a', 'b') }}", "{% raw %}{{ a }}{% endraw %}{{ self }}", "{{ nonsense }}", "{{ business",
        "{% if business is defined %}{% endif %}", "{{ loop }}", "{{ [business] }}", "{{ {1: 2} }}", "{{ 2 ** 99999 }}",
        "{% call gap('booking') %}{% endcall %}", "{% filter lower %}x{% endfilter %}", "x" * 6000, "{% if a %}" * 900,
    ],
)  # fmt: skip
def test_what_is_no_template(template: str) -> None:
    """Whatever could reach further or run on is refused, with its line."""
    with pytest.raises(TemplateError):
        _text(template)


def test_an_unknown_fact_is_never_written() -> None:
    with pytest.raises(FactUnknown, match="first name"):
        _text("Hello {{ first_name }},")


@given(st.sampled_from(sorted(SLOTS)), st.text(max_size=80))
def test_a_fact_is_text_whatever_it_holds(slot: str, value: str) -> None:
    """Names of businesses come from outside: template code, markers and line ends in them are text, on one line."""
    facts = {slot: MessageFact(value, "because")}
    try:
        found = write(f"<{{{{ {slot} }}}}>", facts, (), ())
    except FactUnknown:
        assert value == ""
        return
    assert found.text.startswith("<")
    assert found.text.endswith(">")
    assert "\n" not in found.text
    assert not any("\ue000" <= char <= "\uf8ff" for char in found.text)
    kept = [char for char in value if char.isalnum() and not "\ue000" <= char <= "\uf8ff"]
    assert [char for char in found.text if char.isalnum()] == kept


@given(
    st.text(max_size=200)
    | st.lists(
        st.sampled_from(["{{", "}}", "{%", "%}", "if", "business", "|", "(", ")", ".", "[", "*", " "]), max_size=30
    ).map("".join)
)
def test_no_text_breaks_the_language(template: str) -> None:
    """Any text is a template or an error in words: nothing else is raised, and nothing foreign is printed."""
    try:
        found = _text(template)
    except (TemplateError, FactUnknown):
        return
    assert "<" not in found or "<" in template


def test_each_sentence_names_what_allows_it() -> None:
    """A full stop inside a fact ends no sentence; one at its end does."""
    found = write(
        "I looked at {{ business }}. {{ claim }} That costs you calls.\nSee {{ page }}", FACTS, (), check_ids()
    )
    assert [(s.text, len(s.because)) for s in found.sentences] == [
        ("I looked at Dr. Tansley & Co. (Vets).", 1),
        ("Customers cannot book with you online.", 1),
        ("That costs you calls.", 0),
        ("See https://pages.agency.example/o/abc", 1),
    ]
    assert found.sentences[1].because[0].startswith("Online booking")
