"""Verification of e-mail addresses: out as a file to any verifier, its results back in."""

import csv
import io
from collections import Counter

from fastapi import APIRouter
from fastapi.responses import Response

from openacorn.api.deps import Desk
from openacorn.api.models.verifications import VerdictsAsked, VerdictsTold
from openacorn.core.audit.verification import read_verdicts
from openacorn.jobs.scoring import Scorer
from openacorn.net.probes.site import now
from openacorn.store import verifications

router = APIRouter(tags=["verification"])
STRANGE_SHOWN = 100


@router.get("/verifications/open")
def open_addresses(desk: Desk) -> Response:
    """Addresses of which it is not known whether they reach anybody, as CSV with one column."""
    with desk.database.read() as conn:
        addresses = verifications.open_addresses(conn)
    body = "email\r\n" + "".join(f"{address}\r\n" for address in addresses)
    head = {"Content-Disposition": 'attachment; filename="addresses to verify.csv"'}
    return Response(body, media_type="text/csv; charset=utf-8", headers=head)


@router.post("/verifications")
def take_in(desk: Desk, asked: VerdictsAsked) -> VerdictsTold:
    """Take in a verifier's results; the businesses whose addresses they are about are scored anew."""
    rows = list(csv.DictReader(io.StringIO(asked.text.lstrip("\ufeff"))))
    found, strange = read_verdicts(rows, now())
    with desk.database.write() as conn:
        verifications.keep(conn, found)
        Scorer(conn).score(verifications.businesses_with(conn, [item.address for item in found]))
    return VerdictsTold(taken=Counter(str(item.result) for item in found), strange=strange[:STRANGE_SHOWN])
