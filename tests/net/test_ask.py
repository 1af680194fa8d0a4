"""Asking a source that is busy, broken or unfriendly: a real server on loopback each time."""

import asyncio
from collections.abc import Callable
from typing import Any

import pytest

from openacorn.gather.sources._source import Request, SourceFailure
from openacorn.net import ask
from openacorn.net.ask import Asker
from openacorn.net.client import Client
from openacorn.net.pace import Pace
from openacorn.settings import Settings
from tests.net.serving import serving

Script = Callable[[int], tuple[int, str, str]]
"""Number of the request, from 1 → status, extra headers, body."""


@pytest.fixture(autouse=True)
def quick(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(ask, "BACKOFF_S", 0.01)


def asked(script: Script, **changes: Any) -> tuple[bytes, Asker, list[str]]:
    """Ask once; return the body, the asker with its tally, and the heads of the requests that arrived."""

    async def run() -> tuple[bytes, Asker, list[str]]:
        heads: list[str] = []

        async def serve(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
            heads.append((await reader.readuntil(b"\r\n\r\n")).decode())
            status, extra, body = script(len(heads))
            if status:
                writer.write(
                    f"HTTP/1.1 {status} X\r\nContent-Length: {len(body)}\r\n{extra}Connection: close\r\n\r\n{body}".encode()
                )
                await writer.drain()

        async with serving(serve) as url, Client(Settings(), allow_private=True) as client:
            asker = Asker(client, Pace(), jitter=lambda: 0.0)
            reply = await asker.ask(Request(f"{url}/search", {"q": "vets & more"}, {"X-Api-Key": "k"}, **changes))
            return reply.body, asker, heads

    return asyncio.run(run())


def test_a_good_answer_comes_at_once_and_the_question_arrives_whole() -> None:
    body, asker, heads = asked(lambda _: (200, "", "rows"))
    assert body == b"rows"
    assert (asker.tally.requests, asker.tally.retries) == (1, 0)
    assert "GET /search?q=vets+%26+more HTTP/1.1" in heads[0]
    assert "X-Api-Key: k" in heads[0]
    assert "OpenAcorn/" in heads[0]


@pytest.mark.parametrize(
    "trouble",
    [(500, "", ""), (503, "", ""), (429, "Retry-After: 0\r\n", ""), (0, "", "")],
    ids=["500", "503", "429", "hang-up"],
)
def test_what_passes_is_asked_again(trouble: tuple[int, str, str]) -> None:
    body, asker, _ = asked(lambda number: trouble if number < 3 else (200, "", "rows"))
    assert body == b"rows"
    assert asker.tally.retries == asker.tally.requests - 1
    assert asker.tally.retries in (1, 2)  # the HTTP library itself asks again once after a hang-up


def test_the_sources_own_word_on_waiting_is_kept() -> None:
    _, asker, _ = asked(lambda number: (429, "Retry-After: 1\r\n", "") if number == 1 else (200, "", "x"))
    assert asker.tally.rested_s == 1.0


@pytest.mark.parametrize(
    ("status", "remedy"), [(403, "check the key"), (401, "check the key"), (400, "did not understand")]
)
def test_what_does_not_pass_is_not_asked_again(status: int, remedy: str) -> None:
    requests = []

    def script(number: int) -> tuple[int, str, str]:
        requests.append(number)
        return status, "", "the source's own words"

    with pytest.raises(SourceFailure, match="the source's own words") as caught:
        asked(script)
    assert remedy in caught.value.remedy
    assert requests == [1]


def test_a_source_that_stays_down_is_given_up_with_what_was_wrong() -> None:
    with pytest.raises(SourceFailure, match=r"HTTP 500, 6 times") as caught:
        asked(lambda _: (500, "", ""))
    assert "what was gathered so far is kept" in caught.value.remedy
