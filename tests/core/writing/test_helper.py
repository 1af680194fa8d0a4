"""The chat-completions JSON as servers write it (from their public documentation, from memory), and as they should not."""

import json

import pytest

from openacorn.core.writing.helper import HelperError, Wish, helper_address, parts_of, read_answer, request_of

USUAL = {
    "id": "c-1", "object": "chat.completion", "model": "m",
    "choices": [{"index": 0, "message": {"role": "assistant", "content": "Hi there."}, "finish_reason": "stop"}],
    "usage": {"prompt_tokens": 9, "completion_tokens": 3, "total_tokens": 12},
}  # fmt: skip


def with_content(content: object, **more: object) -> bytes:
    return json.dumps({"choices": [{"message": {"role": "assistant", "content": content}, **more}]}).encode()


@pytest.mark.parametrize(
    ("body", "text"),
    [
        (json.dumps(USUAL).encode(), "Hi there."),
        (with_content([{"type": "text", "text": "Hi "}, {"type": "text", "text": "there."}]), "Hi there."),
        (with_content("<think>The user wants…\nlong</think>\n\nHi there."), "Hi there."),
        (b'{"choices":[{"text":"  Hi there.\\n","index":0,"logprobs":null}]}', "Hi there."),
    ],
)
def test_answers_as_servers_write_them(body: bytes, text: str) -> None:
    assert read_answer(200, body) == text


@pytest.mark.parametrize(
    ("status", "body", "said"),
    [
        (401, b'{"error":{"message":"Incorrect API key provided","type":"invalid_request_error"}}', "401: Incorrect API key provided"),
        (404, b'{"error":"model \'x\' not found"}', "404: model 'x' not found"),
        (429, b'{"detail":"rate limited"}', "429: rate limited"),
        (500, b"[]", "500: \\[\\]"),
        (200, b"<html>a web page</html>", "not in JSON"),
        (502, b"", "502, and not in JSON"),
        (200, b'{"choices":[]}', "has no text"),
        (200, b'{"choices":[{"message":null}]}', "has no text"),
        (200, with_content(None), "is empty"),
        (200, with_content("", finish_reason="stop"), "is empty"),
        (200, with_content("Hi the", finish_reason="length"), "stopped in the middle"),
        (200, b'{"choices":[{"message":{"content":{"a":1}}}]}', "is empty"),
    ],
)  # fmt: skip
def test_answers_that_are_none(status: int, body: bytes, said: str) -> None:
    with pytest.raises(HelperError, match=said):
        read_answer(status, body)


@pytest.mark.parametrize(
    ("answer", "subject", "text"),
    [
        ("Subject: Your website\n\nHello.", "Your website", "Hello."),
        ("**Betreff:** „Ihre Website“\nGuten Tag.", "„Ihre Website", "Guten Tag."),
        ("```text\nSubject: A\n\nHello.\n```", "A", "Hello."),
        ("Hello.\n\nSubject: not one", "Old", "Hello.\n\nSubject: not one"),
    ],
)
def test_subject_and_text(answer: str, subject: str, text: str) -> None:
    assert parts_of(answer, "Old") == (subject, text)
    assert parts_of("Subject: kept\nin a text", "") == ("", "Subject: kept\nin a text")


def test_what_is_asked() -> None:
    wish = Wish("Hello.", "shorter", "de", "A map", ["Your website has no map."])
    call = request_of("https://words.example/v1/", "m", "s3cret", wish)
    assert call.url == "https://words.example/v1/chat/completions"
    assert helper_address("https://words.example/v1/chat/completions") == call.url
    assert call.headers["Authorization"] == "Bearer s3cret"
    body = json.loads(call.body)
    assert (body["model"], body["stream"], [part["role"] for part in body["messages"]]) == (
        "m",
        False,
        ["system", "user"],
    )
    asked = body["messages"][1]["content"]
    assert "German" in asked
    assert "- Your website has no map." in asked
    assert asked.endswith("Message:\nSubject: A map\n\nHello.")
    assert "Authorization" not in request_of("https://words.example/v1", "m", "", wish).headers
