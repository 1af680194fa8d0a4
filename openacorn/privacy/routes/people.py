"""Data about people: the register of it, one person's data found, given out and erased, notes on why it is kept."""

import sys

import orjson
from fastapi import APIRouter, Response

from openacorn.api.deps import AppDep
from openacorn.api.threads import DeskRoute
from openacorn.clock import utc_now
from openacorn.core.privacy.traces import Subject, subject_of
from openacorn.privacy import erasing
from openacorn.privacy.schemas.people import (
    BasisRequest,
    ErasureResponse,
    FoundPersonResponse,
    PersonRequest,
    RegisterResponse,
)
from openacorn.privacy.store import register
from openacorn.privacy.store.register import LegalBasis
from openacorn.settings import Settings

router = APIRouter(route_class=DeskRoute, tags=["people’s data"])


def _subject(settings: Settings, asked: PersonRequest) -> Subject:
    return subject_of(asked.emails, asked.phones, asked.names, settings.region)


@router.get("/people-data")
def show_register(state: AppDep) -> RegisterResponse:
    """What is kept of people: kinds, where they come from, how many, since when; how long, and why."""
    with state.database.read() as conn:
        return RegisterResponse(
            kinds=register.kept_kinds(conn), months=state.settings.retention_months, bases=register.list_bases(conn)
        )


@router.post("/people-data/find")
def find_person(state: AppDep, asked: PersonRequest) -> FoundPersonResponse:
    """Where one person stands, in every table and every file of the data folder."""
    found = erasing.find_person(state.folder, state.database, _subject(state.settings, asked))
    return FoundPersonResponse.model_validate(found)


@router.post("/people-data/export", response_class=Response)
def export_person(state: AppDep, asked: PersonRequest) -> Response:
    """All that is kept of one person, as a file for them (JSON)."""
    found = erasing.find_person(state.folder, state.database, _subject(state.settings, asked), sys.maxsize)
    body = FoundPersonResponse.model_validate(found).model_dump() | {
        "made_at": utc_now(),
        "made_by": state.settings.agency,
    }
    name = {"Content-Disposition": 'attachment; filename="person.json"'}
    return Response(orjson.dumps(body, option=orjson.OPT_INDENT_2), media_type="application/json", headers=name)


@router.post("/people-data/erase")
def erase_person(state: AppDep, asked: PersonRequest) -> ErasureResponse:
    """Erase one person everywhere. It cannot be undone."""
    done = erasing.erase_person(state.folder, state.database, _subject(state.settings, asked))
    return ErasureResponse.model_validate(done)


@router.put("/people-data/bases")
def save_basis(state: AppDep, asked: BasisRequest) -> RegisterResponse:
    """Note why data of people in a country may be kept."""
    with state.database.write() as conn:
        register.set_basis(conn, LegalBasis(asked.country, asked.text.strip()), utc_now())
    return show_register(state)
