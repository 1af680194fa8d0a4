"""Text messages: the gateway they go by, a text to oneself, and registers of numbers that must not be called."""

import secrets as random
import sqlite3
from dataclasses import asdict

from fastapi import APIRouter

from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import DeskRoute
from openacorn.clock import utc_now
from openacorn.core.audit.extract.phone_numbers import parse_phone
from openacorn.core.outreach.text_gateway import GatewayError, TextGateway, check_gateway
from openacorn.db import secrets
from openacorn.outreach.result_files import table_of
from openacorn.outreach.schemas.texts import (
    GatewayRequest,
    GatewayResponse,
    RegisterRead,
    RegisterRequest,
    TestTextRequest,
    TestTextResponse,
)
from openacorn.outreach.store import texts
from openacorn.outreach.text_trials import send_test

router = APIRouter(route_class=DeskRoute, tags=["text messages"])
SECRET = "text_gateway.key"
TOKEN_BYTES = 18


def _response(state: AppState, conn: sqlite3.Connection) -> GatewayResponse:
    stored = texts.get_gateway(conn)
    return GatewayResponse(
        gateway=GatewayRequest(**asdict(stored.gateway)) if stored else None,
        key_kept=SECRET in secrets.kept(conn), problem=stored.problem if stored else "",
        webhook=state.owners_address(f"/o/texts/{stored.token}") if stored else "",
        public=bool(state.settings.public_address), registers=texts.list_registers(conn),
    )  # fmt: skip


@router.get("/text-gateway")
def get_gateway(state: AppDep) -> GatewayResponse:
    """The gateway, and the registers that were imported."""
    with state.database.read() as conn:
        return _response(state, conn)


@router.put("/text-gateway")
def save_gateway(state: AppDep, asked: GatewayRequest) -> GatewayResponse:
    """Save the gateway; its key is sealed and never shown again."""
    values = asked.model_dump(exclude={"key"})
    gateway = TextGateway(**{**values, "countries": tuple(dict.fromkeys(code.upper() for code in asked.countries))})
    check_gateway(gateway)
    with state.database.write() as conn:
        if asked.key:
            secrets.keep(conn, state.folder, SECRET, asked.key, utc_now())
        kept = SECRET if SECRET in secrets.kept(conn) else ""
        texts.save_gateway(conn, gateway, kept, random.token_urlsafe(TOKEN_BYTES))
        found = _response(state, conn)
    state.texting.wake()
    return found


@router.delete("/text-gateway", status_code=204)
def delete_gateway(state: AppDep) -> None:
    """Take the gateway away; text steps are tasks for a person then."""
    with state.database.write() as conn:
        texts.delete_gateway(conn)
        secrets.keep(conn, state.folder, SECRET, "", "")


@router.post("/text-gateway/test")
async def test_gateway(state: AppDep, asked: TestTextRequest) -> TestTextResponse:
    """Send a text to oneself."""
    number = parse_phone(asked.to, state.settings.region)
    if number is None:
        raise GatewayError(f"{asked.to!r} is no phone number")
    problem, told = await send_test(state.database, state.folder, state.settings, number)
    return TestTextResponse(problem=problem, number=told)


@router.post("/do-not-call", status_code=201)
def import_register(state: AppDep, asked: RegisterRequest) -> RegisterRead:
    """Import a register of numbers that must not be called, in place of what it held before."""
    _, rows = table_of(asked.name, asked.content)
    cells = [cell for row in rows for cell in row.cells.values() if sum(map(str.isdigit, cell)) >= 6]
    numbers = [number for cell in cells if (number := parse_phone(cell, state.settings.region))]
    if not numbers:
        raise GatewayError(f"{asked.name} holds no phone number that can be read")
    with state.database.write() as conn:
        kept = texts.import_register(conn, asked.title.strip(), asked.dated, numbers)
    return RegisterRead(numbers=kept, unreadable=len(cells) - len(numbers))


@router.delete("/do-not-call", status_code=204)
def delete_register(state: AppDep, register: str) -> None:
    """Take a register out."""
    with state.database.write() as conn:
        texts.delete_register(conn, register)
