"""Errors of the product, of requests and of the machine in one shape.

Every error answers `{"error": {"what": …, "where": …, "remedy": …}}`: what is wrong, in which field, what to do.
"""

import sqlite3
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from starlette.exceptions import HTTPException

from openacorn.db.database import disk_is_full
from openacorn.errors import AcornError


def body(what: str, where: str, remedy: str) -> dict[str, Any]:
    """The one error shape. Text that no encoding can hold (half of a surrogate pair) is written as its code."""
    parts = {"what": what, "where": where, "remedy": remedy}
    return {"error": {name: text.encode("utf-8", "backslashreplace").decode() for name, text in parts.items()}}


def answer(error: AcornError) -> JSONResponse:
    """An error of the product, with its status."""
    return JSONResponse(body(str(error), error.where, error.remedy), error.status)


def _answer(_request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, AcornError)
    return answer(error)


def _too_large(_request: Request, error: Exception) -> JSONResponse:
    """A number beyond what the store can hold."""
    return JSONResponse(body(str(error), "number", "use a smaller number"), 422)


def _invalid(_request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, RequestValidationError)
    first = error.errors()[0]
    where = ".".join(str(part) for part in first["loc"] if part not in {"body", "query", "path"})
    parts = f"{where}: {first['msg']}" if where else str(first["msg"])
    return JSONResponse(body(parts, where or "request", "correct that field and send it again"), 422)


def _http(_request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, HTTPException)
    where, remedy = ("body", "send less at once") if error.status_code == 413 else ("address", "check the address")
    return JSONResponse(body(str(error.detail), where, remedy), error.status_code, headers=error.headers)


def _unencodable(_request: Request, _error: Exception) -> JSONResponse:
    return JSONResponse(
        body(
            "the text holds a character that is none (half of a surrogate pair)", "text", "take it out and send again"
        ),
        422,
    )


def _storage(_request: Request, error: Exception) -> JSONResponse:
    if not disk_is_full(error):
        raise error
    return JSONResponse(body("the disk is full: nothing was kept", "disk", "free some space and send it again"), 507)


def install(app: FastAPI) -> None:
    """Answer every error in the one shape."""
    app.add_exception_handler(UnicodeEncodeError, _unencodable)
    app.add_exception_handler(sqlite3.OperationalError, _storage)
    app.add_exception_handler(OSError, _storage)
    app.add_exception_handler(AcornError, _answer)
    app.add_exception_handler(OverflowError, _too_large)
    app.add_exception_handler(RequestValidationError, _invalid)
    app.add_exception_handler(HTTPException, _http)
