"""Gateways for texts, in the two shapes that such services document (written from memory of their pages, no product's names)."""

import json
from urllib.parse import parse_qs, urlsplit

import pytest
from hypothesis import given
from hypothesis import strategies as st

from openacorn.core.outreach.message_kind import plain_letters, text_length
from openacorn.core.outreach.text_gateway import (
    GatewayError,
    IncomingText,
    TextGateway,
    check_gateway,
    number_of,
    read_texts,
    read_webhook,
    refusal_of,
    request_of,
)

BY_JSON = TextGateway(
    "https://texts.example/v2/messages", '{"recipient": "{to}", "content": "{text}", "from": "{sender}", "ref": "{reference}"}',
    sender="Wrenfold", number="message.id", error="errors[0].detail", incoming="items", from_="msisdn", text="body", id="sid",
)  # fmt: skip
BY_FORM = TextGateway(
    "https://sms.example/send", "To={to}&Body={text}&From={sender}", "X-Key", "", sender="+61 491 570 006"
)
BY_GET = TextGateway("https://old.example/http?to={to}&msg={text}&id={reference}")


@given(st.text(min_size=1, max_size=200))
def test_whatever_a_text_holds_arrives_as_it_is(text: str) -> None:
    """Read back by the standard library: no text reaches another field, header or parameter."""
    asked = request_of(BY_JSON, "k", "+61491570006", text, "acorn-1")
    assert json.loads(asked.body or b"") == {
        "recipient": "+61491570006",
        "content": text,
        "from": "Wrenfold",
        "ref": "acorn-1",
    }
    assert asked.headers == {"Authorization": "Bearer k", "Content-Type": "application/json"}
    form = request_of(BY_FORM, "k", "+61491570006", text, "")
    assert parse_qs((form.body or b"").decode(), keep_blank_values=True, encoding="utf-8", errors="surrogatepass") == {
        "To": ["+61491570006"], "Body": [text], "From": ["+61 491 570 006"],
    }  # fmt: skip
    asked = request_of(BY_GET, "", "+61491570006", text, "acorn-1")
    assert asked.body is None
    assert parse_qs(urlsplit(asked.url).query, keep_blank_values=True)["msg"] == [text]


@pytest.mark.parametrize(("status", "body", "refused"), [
    (200, b'{"message": {"id": "m-7"}}', ""), (202, b"", ""), (400, b"bad", "HTTP 400: bad"), (500, b"", "HTTP 500"),
    (200, b'{"errors": [{"detail": "no credit"}]}', "no credit"), (401, b'{"errors": []}', 'HTTP 401: {"errors": []}'),
])  # fmt: skip
def test_a_refusal_is_told_from_a_text_that_was_taken(status: int, body: bytes, refused: str) -> None:
    assert refusal_of(BY_JSON, status, body) == refused


def test_the_gateways_own_number_is_kept() -> None:
    assert [number_of(BY_JSON, body) for body in (b'{"message": {"id": 7}}', b"{}", b"no json", b'{"message": {"id": [1]}}')] == [
        "7", "", "", "",
    ]  # fmt: skip


def test_incoming_texts_are_read_by_their_names() -> None:
    body = b'{"items": [{"msisdn": "+61491570110", "body": "STOP", "sid": "a"}, {"body": "from nobody"}, 4]}'
    assert read_texts(BY_JSON, body) == [IncomingText("+61491570110", "STOP", "a")]
    assert read_webhook(BY_FORM, "application/x-www-form-urlencoded", b"from=%2B61491570110&text=Yes+please&id=9") == [
        IncomingText("+61491570110", "Yes please", "9")
    ]
    assert read_webhook(BY_FORM, "text/plain", b"\xff\xfe") == []
    with pytest.raises(GatewayError, match="no JSON"):
        read_texts(BY_JSON, b"<html>")


@pytest.mark.parametrize(("gateway", "why"), [
    (TextGateway(""), "the address is missing"), (TextGateway("ftp://x.example/{to}{text}"), "no web address"),
    (TextGateway("https://x.example/?to={to}"), "where the text goes"), (TextGateway("https://x.example/?t={to}{text}{pin}"), "{pin}"),
    (TextGateway("https://x.example", '{"to": "{to}", "text": {text}'), "no JSON"),
    (TextGateway("https://x.example?{to}{text}", number="a["), "cannot be read"),
])  # fmt: skip
def test_what_cannot_work_says_why(gateway: TextGateway, why: str) -> None:
    with pytest.raises(GatewayError, match=why.replace("{", r"\{").replace("?", r"\?")):
        check_gateway(gateway)


@pytest.mark.parametrize("gateway", [BY_JSON, BY_FORM, BY_GET])
def test_what_works_is_let_through(gateway: TextGateway) -> None:
    check_gateway(gateway)


@given(st.text(alphabet="áâãçêëíîóôõúÁÇ’“”–…aß€ñ", min_size=1, max_size=60))
def test_plain_letters_fit_the_alphabet_of_texts(text: str) -> None:
    """3GPP TS 23.038: whatever Western European keyboards type, no letter outside of the default alphabet is left."""
    assert text_length(plain_letters(text)).odd == ""
