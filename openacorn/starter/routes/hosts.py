"""Hosts of websites, and publishing there."""

import asyncio
import sqlite3
from dataclasses import dataclass, replace

from fastapi import APIRouter

from openacorn.api.deps import AppDep, AppState
from openacorn.api.threads import DeskRoute
from openacorn.business.store import businesses, pipeline
from openacorn.clock import utc_now
from openacorn.core.audit.address import host_of
from openacorn.db import secrets
from openacorn.net.destinations.destination import DestinationError
from openacorn.starter import publishing, sites
from openacorn.starter.schemas.hosts import (
    HostKeyResponse,
    HostRequest,
    HostResponse,
    PublicationsResponse,
    PublishRequest,
)
from openacorn.starter.store import publications, site_pictures, starter_sites
from openacorn.starter.store.publications import Published, WebsiteHost

SHOWN = 3
"""Files that are named of those that somebody else put there."""

router = APIRouter(route_class=DeskRoute, tags=["new websites"])


def _hosts(conn: sqlite3.Connection) -> list[HostResponse]:
    kept = secrets.kept(conn)
    return [
        HostResponse(
            id=host.id, name=host.name, kind=host.kind, address=host.address, account=host.account, branch=host.branch,
            fingerprint=publishing.fingerprint(host.host_key) if host.host_key else "", secret_kept=host.secret in kept,
        )
        for host in publications.list_hosts(conn)
    ]  # fmt: skip


def _asked(asked: HostRequest) -> WebsiteHost:
    return WebsiteHost(**asked.model_dump(exclude={"secret"}))


@router.get("/website-hosts")
def list_hosts(state: AppDep) -> list[HostResponse]:
    """Where websites can be published."""
    with state.database.read() as conn:
        return _hosts(conn)


@router.post("/website-hosts/key")
async def show_key(state: AppDep, asked: HostRequest) -> HostKeyResponse:
    """The key that a server shows now, for the user to compare and confirm; nothing is stored."""
    key, print_ = await publishing.host_key(state.settings, _asked(asked))
    return HostKeyResponse(host_key=key, fingerprint=print_)


@router.put("/website-hosts")
async def save_host(state: AppDep, asked: HostRequest) -> list[HostResponse]:
    """Save a host that can be reached with what was entered; its password or key is sealed and never shown again."""
    host = _asked(asked)

    def known() -> tuple[WebsiteHost, str]:
        with state.database.read() as conn:
            old = publications.get_host(conn, host.id) if host.id else None
            secret = (
                secrets.reveal(conn, state.folder, old.secret) if old and asked.secret is None else asked.secret or ""
            )
            same = old is not None and old.address == host.address
            key = host.host_key or (old.host_key if old and same else "")
        return replace(host, host_key=key), secret

    def write(checked: WebsiteHost) -> list[HostResponse]:
        with state.database.write() as conn:
            number = publications.save_host(conn, checked)
            if asked.secret is not None:
                secrets.keep(conn, state.folder, replace(checked, id=number).secret, asked.secret, utc_now())
            return _hosts(conn)

    checked, secret = await asyncio.to_thread(known)
    shown, _ = await publishing.host_key(state.settings, checked)
    if shown and not checked.host_key:
        raise DestinationError("the server’s key was not confirmed")
    checked = replace(checked, host_key=checked.host_key if shown else "")
    if checked.host_key:
        publishing.fingerprint(checked.host_key)  # what is no key is refused now
    async with publishing.open_destination(state.settings, state.folder, checked, secret, ""):
        pass
    return await asyncio.to_thread(write, checked)


@router.delete("/website-hosts/{number}")
def delete_host(state: AppDep, number: int) -> list[HostResponse]:
    """Forget a host; what was published there stays there."""
    with state.database.write() as conn:
        host = publications.get_host(conn, number)
        secrets.keep(conn, state.folder, host.secret, "", "")
        publications.delete_host(conn, number)
        return _hosts(conn)


def _publications(conn: sqlite3.Connection, business_id: int) -> PublicationsResponse:
    site = starter_sites.get_site(conn, business_id)
    chosen = {item.id for item in site.draft.pictures}
    held = [item for item in site_pictures.list_pictures(conn, business_id) if item.id in chosen and not item.agreed_at]
    latest = publications.list_publications(conn, business_id)
    folder = latest[0].folder if latest else host_of(site.draft.facts.website).removeprefix("www.")
    return PublicationsResponse(
        hosts=_hosts(conn), publications=latest, held_back=len(held), folder=folder or f"website-{business_id}"
    )


@router.get("/businesses/{business_id}/website/publications")
def list_publications(state: AppDep, business_id: int) -> PublicationsResponse:
    """Where a website was published, and where it could be."""
    with state.database.read() as conn:
        return _publications(conn, business_id)


@dataclass(frozen=True, slots=True)
class _Order:
    host: WebsiteHost
    secret: str
    name: str
    files: dict[str, bytes]
    before: Published


def _read(state: AppState, business_id: int, asked: PublishRequest) -> _Order:
    with state.database.read() as conn:
        site, host = starter_sites.get_site(conn, business_id), publications.get_host(conn, asked.host_id)
        before = publications.get_published(conn, host.id, asked.folder)
        if others := before.businesses - {business_id}:
            other = businesses.get_business(conn, min(others))
            raise DestinationError(f"this folder has the website of {other['name']}; choose another")
        secret = secrets.reveal(conn, state.folder, host.secret)
        return _Order(host, secret, site.draft.facts.name, sites.final_files(conn, site), before)


def _begin(state: AppState, business_id: int, asked: PublishRequest, order: _Order) -> int:
    hashes = publishing.hashes_of(order.files)
    with state.database.write() as conn:
        return publications.begin(conn, business_id, order.host.id, asked.folder, utc_now(), asked.by.strip(), hashes)


@router.post("/businesses/{business_id}/website/publish")
async def publish(state: AppDep, business_id: int, asked: PublishRequest) -> PublicationsResponse:
    """Publish the website as it stands, without questions, with the pictures that its owner agreed to."""
    if not publishing.SUBFOLDER.fullmatch(asked.folder):
        raise DestinationError("a folder has letters, digits, dots and dashes, parted by slashes")
    order = await asyncio.to_thread(_read, state, business_id, asked)
    number, done, problem = 0, publishing.Transfer(0, 0), "it broke off"
    try:
        async with publishing.open_destination(
            state.settings, state.folder, order.host, order.secret, f"Publish the website of {order.name}"
        ) as there:
            strange = await publishing.strangers(there, asked.folder, order.files, order.before)
            if strange and not asked.replace:
                named = ", ".join(strange[:SHOWN]) + (" …" if len(strange) > SHOWN else "")
                raise DestinationError(f"there are files that were not published from here: {named}")
            number = await asyncio.to_thread(_begin, state, business_id, asked, order)
            done = await publishing.publish(there, asked.folder, order.files, order.before)
        problem = ""
    except DestinationError as error:
        problem = str(error)
        raise
    finally:
        if number:
            await asyncio.to_thread(_end, state, business_id, asked, order, number, done, problem)
    return await asyncio.to_thread(_shown, state, business_id)


def _shown(state: AppState, business_id: int) -> PublicationsResponse:
    with state.database.read() as conn:
        return _publications(conn, business_id)


def _end(
    state: AppState, business_id: int, asked: PublishRequest, order: _Order, number: int, done: publishing.Transfer, problem: str
) -> None:  # fmt: skip
    at = utc_now()
    with state.database.write() as conn:
        publications.end(conn, number, done.written, done.removed, "" if problem else at, problem)
        if not problem:
            said = f"published the new website at {order.host.name}"
            pipeline.add_activity(conn, business_id, asked.by.strip(), said, at, "page")
