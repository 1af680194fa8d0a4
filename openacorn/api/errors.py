"""One error shape and one map from the product's errors to it.

Every error answers `{"error": {"what": …, "where": …, "remedy": …}}`: what is wrong, in which field, what to do.
"""

import sqlite3
from collections.abc import Callable
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from starlette.exceptions import HTTPException

from openacorn.core.audit.verdict_table import VerdictsError
from openacorn.core.columns import ColumnsError
from openacorn.core.facts import UnknownGroup
from openacorn.core.filters import FilterError
from openacorn.core.geo.geodesy import AreaError
from openacorn.core.outreach.results import ResultError
from openacorn.core.pasted import PatternError
from openacorn.core.reading import PlanError
from openacorn.core.relevance import RuleError
from openacorn.core.report.letterhead import LetterheadError
from openacorn.core.report.pdf import NoPdf
from openacorn.core.scoring.service import ServiceError
from openacorn.core.standing import StandingError
from openacorn.core.trades.trade import UnknownTrade
from openacorn.jobs.auditing import NothingToAudit
from openacorn.jobs.country import CountryError
from openacorn.jobs.deciding import DecisionError
from openacorn.jobs.delivering import DeliveryError
from openacorn.jobs.desk import DeedError
from openacorn.jobs.importing import CountryWanted
from openacorn.jobs.mailing import NobodyToWriteTo
from openacorn.jobs.owner_pages import PageError
from openacorn.jobs.printing import PressBusy
from openacorn.jobs.scheduling import ScheduleError
from openacorn.jobs.tables import FileError
from openacorn.sources._source import SourceFailure, UnknownSource
from openacorn.store.angles import AngleTaken
from openacorn.store.db import disk_is_full
from openacorn.store.secrets import SealBroken
from openacorn.store.shortlists import NameTaken
from openacorn.store.sweeps import NotFound

MAP: dict[type[Exception], tuple[int, str, str]] = {
    AreaError: (422, "territory", "change the area and try again; nothing you entered is lost"),
    UnknownTrade: (422, "trades", "pick a trade from the list"),
    UnknownSource: (422, "sources", "pick a source from the list"),
    RuleError: (422, "rules", "change that rule and try again; nothing you entered is lost"),
    UnknownGroup: (422, "facts", "choose from the list of what can be found out"),
    NothingToAudit: (422, "ids", "choose other businesses"),
    VerdictsError: (422, "text", "name the columns email and result"),
    SealBroken: (409, "secret", "enter the secret again"),
    PlanError: (422, "reading plan", "change that part of the plan"),
    ScheduleError: (422, "at", "choose another time"),
    DecisionError: (422, "decision", "choose otherwise; nothing was changed"),
    StandingError: (422, "standing", "change that line and send it again"),
    SourceFailure: (502, "source", "check the address and try again"),
    FileError: (422, "file", "correct the file, or save it as CSV in UTF-8"),
    CountryWanted: (422, "country", "choose your country, or import the numbers as they are written"),
    CountryError: (422, "country", "choose a country from the list"),
    ColumnsError: (422, "columns", "say which column is which"),
    PatternError: (422, "text", "change the text and send it again"),
    FilterError: (422, "filter", "take that part out of the filter"),
    NotFound: (404, "address", "go back to the list"),
    OverflowError: (422, "number", "use a smaller number"),  # beyond what the store can hold
    ServiceError: (422, "service", "change that part of the service; nothing you entered is lost"),
    NobodyToWriteTo: (422, "shortlist", "verify addresses, or choose fewer days; nothing was noted"),
    PageError: (422, "page", "choose otherwise; nothing was changed"),
    LetterheadError: (422, "letterhead", "change that and try again; nothing you entered is lost"),
    NoPdf: (
        501,
        "pdf",
        "install Pango (Debian: libpango-1.0-0 and libpangoft2-1.0-0), or print the page from a browser",
    ),
    PressBusy: (429, "pdf", "try again in a minute"),
    ResultError: (422, "result", "choose otherwise; nothing was changed"),
    DeedError: (422, "deed", "choose otherwise; nothing was changed"),
    DeliveryError: (422, "folder", "choose another folder"),
    NameTaken: (409, "name", "choose another name"),
    AngleTaken: (409, "name", "choose another name"),
}


def body(what: str, where: str, remedy: str) -> dict[str, Any]:
    """The one error shape. Text that no encoding can hold (half of a surrogate pair) is written as its code."""
    said = {"what": what, "where": where, "remedy": remedy}
    return {"error": {name: text.encode("utf-8", "backslashreplace").decode() for name, text in said.items()}}


def _handler(status: int, where: str, remedy: str) -> Callable[[Request, Exception], JSONResponse]:
    def handle(_request: Request, error: Exception) -> JSONResponse:
        return JSONResponse(body(str(error), where, remedy), status)

    return handle


def _invalid(_request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, RequestValidationError)
    first = error.errors()[0]
    where = ".".join(str(part) for part in first["loc"] if part not in {"body", "query", "path"})
    said = f"{where}: {first['msg']}" if where else str(first["msg"])
    return JSONResponse(body(said, where or "request", "correct that field and send it again"), 422)


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
    """Teach the application the map."""
    app.add_exception_handler(UnicodeEncodeError, _unencodable)
    app.add_exception_handler(sqlite3.OperationalError, _storage)
    app.add_exception_handler(OSError, _storage)
    for kind, (status, where, remedy) in MAP.items():
        app.add_exception_handler(kind, _handler(status, where, remedy))
    app.add_exception_handler(RequestValidationError, _invalid)
    app.add_exception_handler(HTTPException, _http)
