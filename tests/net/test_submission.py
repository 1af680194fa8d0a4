"""Handing over a message: whatever a server does, it is known whether it may have taken it."""

import socket
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime

import pytest

from openacorn.core.outreach.compose import Envelope, compose
from openacorn.net import mail_server
from openacorn.net.mail_server import MailServerError, connect_submission, xoauth2
from openacorn.net.submission import Acceptance, submit
from openacorn.settings import Settings

BODY = compose(
    Envelope("a@b.example", "Ada", "c@d.example", "", "<1@b.example>", datetime(2026, 11, 27, tzinfo=UTC)),
    "Hello",
    "Hello there",
)
SILENT, CLOSE = "(says nothing more)", "(closes)"
SOUND = {
    "": "220 ready",
    "EHLO": "250 here",
    "MAIL": "250 ok",
    "RCPT": "250 ok",
    "DATA": "354 go on",
    ".": "250 taken",
    "QUIT": "221 bye",
}


class Scripted(threading.Thread):
    """A server of one connection that answers each command as it is told; it keeps what it was sent."""

    def __init__(self, script: dict[str, str]) -> None:
        super().__init__(daemon=True)
        self._script = SOUND | script
        self._listening = socket.create_server(("127.0.0.1", 0))
        self.port: int = self._listening.getsockname()[1]
        self.bodies: list[bytes] = []

    def run(self) -> None:
        with self._listening, self._listening.accept()[0] as connection, connection.makefile("rb") as lines:
            try:
                self._talk(connection, lines)
            except OSError:
                return

    def _talk(self, connection: socket.socket, lines: object) -> None:
        if not self._answer(connection, ""):
            return
        body: list[bytes] | None = None
        for line in lines:  # type: ignore[attr-defined]
            if body is not None:
                if line != b".\r\n":
                    body.append(line)
                    continue
                self.bodies.append(b"".join(body))
                body, word = None, "."
            else:
                word = line.split()[0].decode("latin-1").upper() if line.split() else ""
            if not self._answer(connection, word):
                return
            if word == "DATA" and self._script["DATA"].startswith("354"):
                body = []

    def _answer(self, connection: socket.socket, word: str) -> bool:
        said = self._script.get(word, "500 what?")
        if said in {CLOSE, SILENT}:
            return said == SILENT
        connection.sendall(said.encode() + b"\r\n")
        return True


@contextmanager
def serving(script: dict[str, str]) -> Iterator[Scripted]:
    server = Scripted(script)
    server.start()
    yield server
    server.join(5)


def connect(server: Scripted) -> object:
    return connect_submission(Settings(), "127.0.0.1", server.port, "none", "none", "", "")


@pytest.mark.parametrize(
    ("script", "acceptance", "intended", "arrived"),
    [
        ({}, Acceptance.ACCEPTED, True, 1),
        ({"RCPT": "550 5.1.1 nobody here"}, Acceptance.REFUSED, False, 0),
        ({"RCPT": "451 4.7.1 greylisted"}, Acceptance.LATER, False, 0),
        ({"MAIL": "421 4.3.2 closing"}, Acceptance.LATER, False, 0),
        ({"MAIL": CLOSE}, Acceptance.LATER, False, 0),
        ({"RCPT": CLOSE}, Acceptance.LATER, False, 0),
        ({"DATA": "554 5.7.1 no"}, Acceptance.REFUSED, True, 0),
        ({"DATA": "451 later"}, Acceptance.LATER, True, 0),
        ({"DATA": CLOSE}, Acceptance.PERHAPS, True, 0),
        ({".": "554 5.7.1 spam"}, Acceptance.REFUSED, True, 1),
        ({".": "452 4.3.1 full"}, Acceptance.LATER, True, 1),
        ({".": CLOSE}, Acceptance.PERHAPS, True, 1),
        ({".": SILENT}, Acceptance.PERHAPS, True, 1),
        ({".": "250-taken\r\n250 really"}, Acceptance.ACCEPTED, True, 1),
    ],
)
def test_what_becomes_of_a_message(
    script: dict[str, str], acceptance: Acceptance, intended: bool, arrived: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Only an answer to the whole message says that it was taken; nothing is intended before the receiver is accepted."""
    monkeypatch.setattr(mail_server, "WAIT_S", 1)
    intents: list[bool] = []

    def intend() -> bool:
        intents.append(True)
        return True

    with serving(script) as server:
        connection = connect(server)
        assert submit(connection, "a@b.example", "c@d.example", BODY, intend).acceptance is acceptance  # type: ignore[arg-type]
        connection.close()  # type: ignore[attr-defined]
    assert (bool(intents), len(server.bodies)) == (intended, arrived)


def test_what_is_withdrawn_at_the_last_moment_never_leaves() -> None:
    with serving({}) as server:
        connection = connect(server)
        assert submit(connection, "a@b.example", "c@d.example", BODY, lambda: False).acceptance is Acceptance.WITHDRAWN  # type: ignore[arg-type]
        connection.close()  # type: ignore[attr-defined]
    assert server.bodies == []


@pytest.mark.parametrize(
    ("script", "sign_in", "words", "is_sign_in"),
    [
        ({"": "554 no service"}, "none", "554", False),
        ({"": CLOSE}, "none", "cannot be used", False),
        (
            {"EHLO": "250-here\r\n250 AUTH PLAIN", "AUTH": "535 5.7.8 wrong"},
            "password",
            "refused the user name or password",
            True,
        ),
        (
            {"EHLO": "250-here\r\n250 AUTH XOAUTH2", "AUTH": "535 5.7.8 expired"},
            "token",
            "refused the user name or password",
            True,
        ),
        ({"EHLO": "250 here"}, "password", "cannot be used", False),
    ],
)
def test_a_server_that_cannot_be_used_is_named_with_the_reason(
    script: dict[str, str], sign_in: str, words: str, is_sign_in: bool
) -> None:
    with serving(script) as server, pytest.raises(MailServerError, match=words) as raised:
        connect_submission(Settings(), "127.0.0.1", server.port, "none", sign_in, "ada", "secret")
    assert raised.value.sign_in is is_sign_in


def test_a_certificate_of_nobody_known_is_refused() -> None:
    """Not signed by an authority that the machine trusts: no password goes there."""
    with serving({}) as server, pytest.raises(MailServerError):
        connect_submission(Settings(), "127.0.0.1", server.port, "tls", "password", "ada", "secret")
    assert server.bodies == []


def test_an_oauth_answer_is_as_providers_document_it() -> None:
    """The example of the XOAUTH2 documentation of two large providers, from memory."""
    assert (
        xoauth2("someuser@example.com", "ya29.vF9dft4qmTc2Nvb3RlckBhdHRhdmlzdGEuY29tCg")
        .encode()
        .startswith(b"user=someuser@example.com\x01auth=Bearer ya29.")
    )
