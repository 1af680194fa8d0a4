"""Verification of e-mail addresses and numbers: out as a file to any verifier, its results back in."""

import csv
import io
from collections import Counter
from dataclasses import asdict
from typing import Literal

from fastapi import APIRouter
from fastapi.responses import Response

from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.audit.schemas.verifications import TableRequest, TableResponse, VerdictsRequest, VerdictsResponse
from openacorn.business.store import verifications
from openacorn.clock import utc_now
from openacorn.core.audit.verdict_table import VerdictColumns, VerdictsError, guess_columns, read_table
from openacorn.score.scorer import Scorer

router = APIRouter(route_class=DeskRoute, tags=["verification"])
STRANGE_SHOWN, ROWS_SHOWN = 100, 3
OPEN = {"email": verifications.open_addresses, "phone": verifications.open_numbers}


def _rows(text: str) -> list[dict[str, str]]:
    try:
        return list(csv.DictReader(io.StringIO(text.lstrip("\ufeff"))))
    except csv.Error as error:
        raise VerdictsError(f"this cannot be read as CSV: {error}") from error


@router.get("/verifications/open")
def open_ones(state: AppDep, of: Literal["email", "phone"] = "email") -> Response:
    """Addresses, or numbers, of which it is not known whether they reach anybody, as CSV with one column."""
    with state.database.read() as conn:
        values = OPEN[of](conn)
    body = f"{of}\r\n" + "".join(f"{value}\r\n" for value in values)
    what = "addresses" if of == "email" else "numbers"
    head = {"Content-Disposition": f'attachment; filename="{what} to verify.csv"'}
    return Response(body, media_type="text/csv; charset=utf-8", headers=head)


@router.post("/verifications/columns")
def look_at(asked: TableRequest) -> TableResponse:
    """What a table's columns would be taken for, before any of it is taken in."""
    rows = _rows(asked.text)
    heads = [head for head in (rows[0] if rows else {}) if head]
    first = [{head: str(row.get(head) or "") for head in heads} for row in rows[:ROWS_SHOWN]]
    return TableResponse(heads=heads, columns=asdict(guess_columns(heads)), first=first, rows=len(rows))


@router.post("/verifications")
def take_in(state: AppDep, asked: VerdictsRequest) -> VerdictsResponse:
    """Take in a verifier's results; the businesses that they are about are scored again."""
    columns = VerdictColumns(**asked.columns.model_dump()) if asked.columns else None
    found, strange = read_table(_rows(asked.text), utc_now(), state.settings.region, columns)
    with state.database.write() as conn:
        verifications.upsert_verifications(conn, found)
        Scorer(conn).score(verifications.businesses_with(conn, [item.address for item in found]))
    return VerdictsResponse(
        taken=Counter(str(item.result) for item in found),
        lines=Counter(str(item.line) for item in found if item.line),
        strange=strange[:STRANGE_SHOWN],
    )
