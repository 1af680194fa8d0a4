"""What the agency sells: the shipped services, those it changed or made, and every wording that was in force."""

import sqlite3
from dataclasses import dataclass, replace

from pydantic import TypeAdapter

from openacorn.business.store import outcomes
from openacorn.core.score.service import Service, all_services
from openacorn.core.score.winning import PRIOR
from openacorn.errors import NotFound

_SERVICE = TypeAdapter(Service)

STORED = "SELECT id, body, removed FROM service ORDER BY id"
PUT = "INSERT OR REPLACE INTO service (id, body, removed) VALUES (?, ?, ?)"
ADD_VERSION = "INSERT INTO service_version (service_id, at, body, note) VALUES (?, ?, ?, ?) RETURNING number"
VERSIONS = "SELECT number, service_id, at, body, note FROM service_version WHERE service_id = ? ORDER BY number DESC"


@dataclass(frozen=True, slots=True)
class Version:
    """A wording of a service. number 0: as shipped. at: ISO 8601, "" for the shipped one."""

    number: int
    at: str
    note: str
    service: Service


def list_services(conn: sqlite3.Connection) -> tuple[Service, ...]:
    """Every service that is offered now, by id, with the chance of winning that values go by."""
    found = {service.id: service for service in all_services()}
    for row in conn.execute(STORED):
        found.pop(row["id"], None)
        if not row["removed"]:
            found[row["id"]] = _SERVICE.validate_json(row["body"])
    learnt = outcomes.win_probability(conn) if outcomes.use_learnt_model(conn) else {}
    usual = learnt.get("", PRIOR)
    return tuple(replace(found[name], odds=learnt.get(name, usual)) for name in sorted(found))


def list_removed(conn: sqlite3.Connection) -> tuple[Service, ...]:
    """Services that are offered no more, as they were last, by id."""
    return tuple(_SERVICE.validate_json(row["body"]) for row in conn.execute(STORED) if row["removed"])


def get_service(conn: sqlite3.Connection, service_id: str) -> Service:
    """A service that is offered now. Raises NotFound."""
    for service in list_services(conn):
        if service.id == service_id:
            return service
    raise NotFound(f"there is no service {service_id!r}")


def save_service(conn: sqlite3.Connection, service: Service, at: str, note: str, *, removed: bool = False) -> int:
    """Put a wording in force and keep it among the versions; return its number."""
    body = _SERVICE.dump_json(replace(service, odds=PRIOR)).decode()
    conn.execute(PUT, (service.id, body, int(removed)))
    return int(conn.execute(ADD_VERSION, (service.id, at, body, note)).fetchone()[0])


def list_versions(conn: sqlite3.Connection, service_id: str) -> list[Version]:
    """Every wording of a service, the newest first; the shipped one, if there is one, last."""
    found = [
        Version(row["number"], row["at"], row["note"], _SERVICE.validate_json(row["body"]))
        for row in conn.execute(VERSIONS, (service_id,))
    ]
    shipped = [Version(0, "", "as shipped", service) for service in all_services() if service.id == service_id]
    if not found and not shipped:
        raise NotFound(f"there is no service {service_id!r}")
    return found + shipped
