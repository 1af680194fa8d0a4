"""Somebody at a browser or a program, speaking plain HTTP: cookies and headers as they are sent, not as a library would."""

import http.client
import json
from dataclasses import dataclass, field
from typing import Any

from tests.application import Application

PASSWORD = "correct-lantern-harbour-17"


@dataclass
class Answer:
    """status, body and headers of one answer."""

    status: int
    body: bytes
    headers: http.client.HTTPMessage

    @property
    def json(self) -> Any:
        return json.loads(self.body or b"null")

    @property
    def what(self) -> str:
        return str(self.json["error"]["what"])


@dataclass
class Person:
    """Keeps the cookie and the token that belongs to it; `token`: a program's."""

    app: Application
    cookie: str = ""
    csrf: str = ""
    token: str = ""
    headers: dict[str, str] = field(default_factory=dict)

    def ask(self, method: str, path: str, body: Any = None, **headers: str) -> Answer:
        """One request, with what this person has to show; a body of bytes is sent as it is; headers: more, _ for -; "" takes one away."""
        sent = {"Content-Type": "application/json", **self.headers}
        if self.cookie:
            sent |= {"Cookie": f"__Host-acorn={self.cookie}", "X-CSRF-Token": self.csrf}
        if self.token:
            sent["Authorization"] = f"Bearer {self.token}"
        sent |= {name.replace("_", "-"): value for name, value in headers.items()}
        conn = http.client.HTTPConnection("127.0.0.1", self.app.port, timeout=60)
        content = body if isinstance(body, bytes) else json.dumps({} if body is None else body)
        conn.request(
            method,
            path,
            None if body is None and method == "GET" else content,
            {name: value for name, value in sent.items() if value},
        )
        answer = conn.getresponse()
        found = Answer(answer.status, answer.read(), answer.headers)
        conn.close()
        return found

    def get(self, path: str) -> Any:
        """The JSON of what is permitted."""
        answer = self.ask("GET", path)
        assert answer.status == 200, answer.body
        return answer.json

    def do(self, method: str, path: str, body: Any = None) -> Any:
        """The JSON of a change that is permitted."""
        answer = self.ask(method, path, body)
        assert answer.status < 300, answer.body
        return answer.json

    def signed(self, answer: Answer) -> "Person":
        """Keep what a sign-in gave."""
        assert answer.status < 300, answer.body
        self.cookie = answer.headers["Set-Cookie"].split(";")[0].split("=", 1)[1]
        self.csrf = answer.json["csrf"]
        return self

    def sign_in(self, email: str, password: str = PASSWORD, code: str = "") -> Answer:
        """Try to sign in, as somebody who has no cookie yet."""
        return Person(self.app).ask("POST", "/api/session", {"email": email, "password": password, "code": code})


def first_owner(app: Application, email: str = "ada@wrenfold.example", name: str = "Ada Finch") -> Person:
    """The first account of an installation, signed in."""
    body = {"email": email, "name": name, "password": PASSWORD}
    return Person(app).signed(Person(app).ask("POST", "/api/first-owner", body))


def invited(by: Person, email: str, name: str, role: str, own: list[str] | None = None) -> Person:
    """Somebody invited, who has chosen a password by the link."""
    body = {"email": email, "name": name, "role": role, "own_permissions": own}
    link = by.do("PUT", "/api/team", body)["link"]
    return Person(by.app).signed(
        Person(by.app).ask("POST", "/api/new-password", {"key": link.rpartition("#")[2], "password": PASSWORD})
    )
