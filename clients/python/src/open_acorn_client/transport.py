"""Requests to an installation: token, errors, waiting where the installation asks for it, nothing done twice."""

import http.client
import json
import time
import urllib.error
import urllib.parse
import urllib.request
import uuid
from collections.abc import Mapping
from typing import Any

TRIES = 4
LONGEST_WAIT_S = 60.0
CHUNK = 1024 * 1024


class AcornError(Exception):
    """What the installation answered. what, where, remedy: as its screens say it."""

    def __init__(self, status: int, what: str, where: str = "", remedy: str = "") -> None:
        super().__init__(f"{what} ({remedy})" if remedy else what)
        self.status, self.what, self.where, self.remedy = status, what, where, remedy


def _problem(status: int, body: bytes) -> AcornError:
    try:
        said = json.loads(body)["error"]
        return AcornError(status, str(said["what"]), str(said["where"]), str(said["remedy"]))
    except (ValueError, KeyError, TypeError):
        return AcornError(status, f"HTTP status {status}")


def _written(value: Any) -> str:
    return str(value).lower() if isinstance(value, bool) else str(value)


class Transport:
    """One installation, asked with one token ("" where it has no accounts)."""

    def __init__(self, url: str, token: str = "", *, timeout_s: float = 60.0) -> None:
        self._base, self._token, self._timeout_s = url.rstrip("/"), token, timeout_s

    @staticmethod
    def quoted(part: object) -> str:
        """A part of a path."""
        return urllib.parse.quote(str(part), safe="")

    def _request(
        self, method: str, path: str, params: Mapping[str, Any], body: Any, content: bytes | None
    ) -> urllib.request.Request:
        query = urllib.parse.urlencode({name: _written(value) for name, value in params.items() if value is not None})
        headers = {"Accept": "application/json", "User-Agent": "open-acorn-client"}
        if self._token:
            headers["Authorization"] = f"Bearer {self._token}"
        if body is not None:
            content, headers["Content-Type"] = json.dumps(body).encode(), "application/json"
        if method == "POST" and (content is None or len(content) < CHUNK):
            headers["Idempotency-Key"] = uuid.uuid4().hex  # sent again after a broken connection it is done once
        return urllib.request.Request(
            f"{self._base}{path}" + (f"?{query}" if query else ""), content, headers, method=method
        )

    def get_bytes(
        self,
        method: str,
        path: str,
        params: Mapping[str, Any] | None = None,
        *,
        body: Any = None,
        content: bytes | None = None,
    ) -> bytes:
        """The body of an answer. Raises AcornError; OSError if the installation cannot be reached."""
        request = self._request(method, path, params or {}, body, content)
        for left in reversed(range(TRIES)):
            try:
                with urllib.request.urlopen(request, timeout=self._timeout_s) as answer:
                    return bytes(answer.read())
            except urllib.error.HTTPError as refused:
                with refused:
                    wait = refused.headers.get("Retry-After", "")
                    if refused.code != 429 or not left:
                        raise _problem(refused.code, refused.read()) from None
                time.sleep(min(LONGEST_WAIT_S, float(wait) if wait.isdigit() else 1.0))
            except (urllib.error.URLError, http.client.HTTPException, ConnectionError):
                if not left or method not in {"GET", "POST", "PUT", "DELETE"}:
                    raise
                time.sleep(0.2)
        raise AssertionError("unreachable")

    def ask(
        self,
        method: str,
        path: str,
        params: Mapping[str, Any] | None = None,
        *,
        body: Any = None,
        content: bytes | None = None,
    ) -> Any:
        """The JSON of an answer, None for an empty one. Raises AcornError, OSError."""
        text = self.get_bytes(method, path, params, body=body, content=content)
        return json.loads(text) if text else None
