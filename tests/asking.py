"""What tests ask of a running application: rows, lists, pages as a browser opens them, and what is refused."""

import http.client
import json
import urllib.error
import urllib.parse
import urllib.request
from typing import Any

import pytest

from tests.application import Application

PERSON = "Mozilla/5.0 (X11; Linux)"


def failing(
    app: Application, method: str, path: str, body: Any = None, headers: dict[str, str] | None = None
) -> tuple[int, dict[str, str]]:
    data = None if body is None else json.dumps(body).encode()
    request = urllib.request.Request(
        app.url + path, data, {"Content-Type": "application/json", **(headers or {})}, method=method
    )
    with pytest.raises(urllib.error.HTTPError) as caught:
        urllib.request.urlopen(request, timeout=60)
    answer = json.load(caught.value)
    caught.value.close()
    assert set(answer) == {"error"}
    assert set(answer["error"]) == {"what", "where", "remedy"}
    return caught.value.code, answer["error"]


def table(app: Application, query: str = "") -> list[dict[str, Any]]:
    page = app.get(f"/api/businesses?limit=500&{query}")
    return [dict(zip(page["columns"], row, strict=True)) for row in page["rows"]]


def total(app: Application, query: str = "") -> int:
    return int(app.get(f"/api/businesses?limit=1&{query}")["total"])


def delete(app: Application, path: str) -> None:
    with urllib.request.urlopen(urllib.request.Request(app.url + path, method="DELETE")) as answer:
        assert answer.status == 204


def ids_of(app: Application, query: str = "") -> list[int]:
    return [row[0] for row in app.get(f"/api/businesses?columns=id&limit=500&{query}")["rows"]]


def make_list(app: Application, name: str, ids: list[int]) -> int:
    number = int(app.post("/api/shortlists", {"name": name})["id"])
    app.post(f"/api/shortlists/{number}/members", {"ids": ids})
    return number


def opened(app: Application, path: str, form: dict[str, str] | None = None, agent: str = PERSON) -> tuple[int, str]:
    """(status, page) of an owner's page, as a browser asks for it; redirects are followed."""
    body = urllib.parse.urlencode(form).encode() if form is not None else None
    request = urllib.request.Request(
        (app.url if path.startswith("/api/") else app.owners_url) + path, body, {"User-Agent": agent}
    )
    try:
        with urllib.request.urlopen(request, timeout=60) as answer:
            return answer.status, answer.read().decode("utf-8", "replace")
    except urllib.error.HTTPError as error:
        with error:
            return error.code, error.read().decode()


def answered(
    url: str, path: str, method: str = "GET", body: bytes | None = None, /, **headers: str
) -> tuple[int, str, Any]:
    """(status, text, headers) of a request with headers of our choice."""
    host = urllib.parse.urlsplit(url).netloc
    asked = http.client.HTTPConnection(host, timeout=60)
    asked.request(
        method, path, body, headers={"Host": host} | {name.replace("_", "-"): v for name, v in headers.items()}
    )
    found = asked.getresponse()
    result = (found.status, found.read().decode("utf-8", "replace"), found.headers)
    asked.close()
    return result
