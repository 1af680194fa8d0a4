"""A message as it leaves reads back as it was meant, by the standard library's own parser."""

from datetime import UTC, datetime
from email import message_from_bytes, policy
from email.message import EmailMessage

import pytest
from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.languages.catalogue import Translator
from openacorn.core.outreach.compose import Envelope, RecipientError, as_html, compose, footer
from openacorn.core.outreach.message_check import check_message
from openacorn.core.outreach.message_kind import MessageKind, text_length, too_long

AT = datetime(2026, 11, 27, 9, 30, tzinfo=UTC)
STOP = "https://pages.agency.example/o/stop/abc"


def _read(body: bytes) -> EmailMessage:
    return message_from_bytes(body, _class=EmailMessage, policy=policy.default)


def _envelope(**changes: object) -> Envelope:
    usual = {"sender": "ada@wrenfold.example", "name": "Ada Wren", "to": "mara@tansley.example", "person": "Mara Quist",
             "message_id": "<1@wrenfold.example>", "at": AT, "stop_page": STOP, "one_click": True}  # fmt: skip
    return Envelope(**(usual | changes))  # type: ignore[arg-type]


def test_headers_as_the_standards_have_them() -> None:
    """RFC 5322 (dates, ids, threads), RFC 2047 (names beyond ASCII), RFC 8058 (one click)."""
    found = _read(
        compose(
            _envelope(name="Ådä Wren", answers=("<a@x.example>", "<b@x.example>")), "Grüße aus Port Ellery", "Hello"
        )
    )
    assert found["From"].addresses[0].display_name == "Ådä Wren"
    assert found["To"].addresses[0].addr_spec == "mara@tansley.example"
    assert found["Subject"] == "Grüße aus Port Ellery"
    assert found["Date"].datetime == AT
    assert found["In-Reply-To"] == "<b@x.example>"
    assert found["References"] == "<a@x.example> <b@x.example>"
    assert found["List-Unsubscribe"] == f"<{STOP}>, <mailto:ada@wrenfold.example?subject=stop>"
    assert found["List-Unsubscribe-Post"] == "List-Unsubscribe=One-Click"
    raw = compose(_envelope(), "Grüße", "Hello")
    assert b"\r\nSubject: =?utf-8?" in raw
    assert max(map(len, raw.split(b"\r\n"))) <= 998


@given(st.text(max_size=120), st.text(max_size=300), st.text(max_size=60))
def test_nothing_injects_a_header(subject: str, text: str, name: str) -> None:
    """Subjects, names and texts of any kind add no header and no receiver, and the text arrives as it was."""
    found = _read(compose(_envelope(name=name, person=name), subject, text))
    assert sorted(found.keys()) == sorted(
        [
            "From",
            "To",
            "Subject",
            "Date",
            "Message-ID",
            "List-Unsubscribe",
            "List-Unsubscribe-Post",
            "MIME-Version",
            "Content-Type",
        ]
    )
    assert [address.addr_spec for address in found["To"].addresses] == ["mara@tansley.example"]
    body = found.get_body(("plain",))
    assert body is not None
    assert body.get_content().split() == text.replace("\r\n", "\n").split()


@pytest.mark.parametrize(
    "address", ["", "mara", "mara@", "a@b.example, c@d.example", "a@b.example\r\nBcc: c@d.example", "<a@b.example>"]
)
def test_what_is_no_address_gets_no_message(address: str) -> None:
    with pytest.raises(RecipientError):
        compose(_envelope(to=address), "Hello", "Hello")


@given(st.text(max_size=300))
def test_html_is_text_whatever_it_holds(text: str) -> None:
    """Of tags only ours: paragraphs, line ends and links to what the text itself names."""
    rest = as_html(text)
    for tag in ("<p>", "</p>", "<br>", "</a>"):
        rest = rest.replace(tag, "")
    while '<a href="http' in rest:
        begin = rest.index('<a href="http')
        rest = rest[:begin] + rest[rest.index(">", begin) + 1 :]
    assert "<" not in rest


def test_the_footer_says_who_and_how_to_stop() -> None:
    text = footer("Wrenfold Studio", "Ada Wren", "4 Harbour Road\nPort Ellery 9000", STOP, Translator())
    assert text.splitlines() == [
        "-- ", "Ada Wren, Wrenfold Studio, 4 Harbour Road · Port Ellery 9000", f'To hear no more from us, open {STOP} or answer with "stop".',
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("text", "units", "parts", "odd"),
    [
        ("a" * 160, 160, 1, ""), ("a" * 161, 161, 2, ""), ("a" * 306, 306, 2, ""), ("a" * 307, 307, 3, ""),
        ("€" * 80, 160, 1, ""), ("€" * 81, 162, 2, ""), ("{}[]~^|\\", 16, 1, ""), ("äöüßñéàÄÖÜ", 10, 1, ""),
        ("ç", 1, 1, "ç"), ("’", 1, 1, "’"), ("ф" * 70, 70, 1, "ф"), ("ф" * 71, 71, 2, "ф"), ("😀", 2, 1, "😀"),
    ],
)  # fmt: skip
def test_text_messages_are_counted_as_carriers_do(text: str, units: int, parts: int, odd: str) -> None:
    """3GPP TS 23.038: 160 septets or 70 UTF-16 units, 153 or 67 in each of several parts; the euro takes two septets."""
    found = text_length(text)
    assert (found.units, found.parts, found.odd) == (units, parts, odd)


@pytest.mark.parametrize(
    ("kind", "subject", "text", "part"),
    [
        (MessageKind.EMAIL, "", "Hello there", "no subject"),
        (MessageKind.EMAIL, "x" * 61, "Hello", "61 characters"),
        (MessageKind.EMAIL, "Hello", "word " * 121, "121 words"),
        (MessageKind.EMAIL, "Hello", "https://a.example https://b.example https://c.example", "3 links"),
        (MessageKind.EMAIL, "Act now", "This is free!!", "act now, free"),
        (MessageKind.EMAIL, "Hello", "THIS SHOUTS at you", "shouting"),
        (MessageKind.TEXT, "", "’" * 71, "2 text messages"),
        (MessageKind.VOICEMAIL, "", "", "no text"),
    ],
)
def test_what_is_remarked(kind: MessageKind, subject: str, text: str, part: str) -> None:
    assert any(part in remark.text for remark in check_message(kind, subject, text))


def test_nothing_is_said_of_a_good_message() -> None:
    text = "Hello Mara,\n\nI looked at your website today. Customers cannot book with you online. May I show you how others do it?\n\nAda"
    assert check_message(MessageKind.EMAIL, "Booking at Tansley Vets", text) == []
    assert too_long(MessageKind.EMAIL, text) == ""
