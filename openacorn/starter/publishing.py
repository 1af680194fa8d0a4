"""Publishes a new website: only what changed is written, pages last; nothing is touched there that we did not put there."""

import hashlib
import re
from collections.abc import AsyncIterator, Mapping
from contextlib import asynccontextmanager
from dataclasses import dataclass
from pathlib import Path

from openacorn.net.destinations.destination import DestinationError, UploadTarget
from openacorn.net.destinations.folder import FolderDestination, allowed_folder
from openacorn.net.destinations.git import check_address, git_destination
from openacorn.net.destinations.ssh_login import SshLogin
from openacorn.settings import Settings
from openacorn.starter.store.publications import Published, WebsiteHost

BRANCH = "main"
SUBFOLDER = re.compile(r"(?:[A-Za-z0-9][A-Za-z0-9._-]{0,62}(?:/[A-Za-z0-9][A-Za-z0-9._-]{0,62}){0,4})?")


@dataclass(frozen=True, slots=True)
class Transfer:
    """How many files were written and removed."""

    written: int
    removed: int


def hashes_of(files: Mapping[str, bytes]) -> dict[str, str]:
    """Path → SHA-256."""
    return {path: hashlib.sha256(body).hexdigest() for path, body in files.items()}


def _login(host: WebsiteHost, secret: str) -> SshLogin:
    return SshLogin(host.address, host.account, secret, host.host_key)


@asynccontextmanager
async def open_destination(
    settings: Settings, data: Path, host: WebsiteHost, secret: str, message: str
) -> AsyncIterator[UploadTarget]:
    """The place that a host is. data: the application's own folder. Raises DestinationError."""
    if host.kind == "folder":
        yield FolderDestination(allowed_folder(settings, data, host.address))
    elif host.kind == "sftp":
        from openacorn.net.destinations.sftp import sftp_destination

        async with sftp_destination(settings, _login(host, secret)) as there:
            yield there
    else:
        author = (settings.agency or "Open Acorn", settings.contact_address or "websites@localhost")
        async with git_destination(_login(host, secret), host.branch or BRANCH, author, message) as tree:
            yield tree


async def host_key(settings: Settings, host: WebsiteHost) -> tuple[str, str]:
    """(the key that a server shows now, its fingerprint), ("", "") for what has none. Raises DestinationError."""
    if host.kind == "sftp" and not host.address.startswith("sftp://"):
        raise DestinationError("the address of a server begins with sftp://")
    if host.kind == "git":
        check_address(_login(host, ""))
    if host.kind == "folder" or host.address.startswith("https://"):
        return "", ""
    from openacorn.net.destinations.sftp import host_key_of

    found = await host_key_of(settings, _login(host, ""))
    return found, fingerprint(found)


def fingerprint(key: str) -> str:
    """A host key's fingerprint, as the tools of servers print it. Raises DestinationError for what is no key."""
    from openacorn.net.destinations import sftp  # its library is heavy: loaded for who has such a server

    return sftp.fingerprint(key)


def _below(folder: str, path: str) -> str:
    return f"{folder}/{path}" if folder else path


def _last(path: str) -> tuple[int, str]:
    """Pictures and styles first, pages then, the home page last: nobody sees a page whose style is not there yet."""
    return (2 if path == "index.html" else 1 if path.endswith(".html") else 0), path


async def strangers(there: UploadTarget, folder: str, files: Mapping[str, bytes], before: Published) -> list[str]:
    """Files that would be overwritten, and were not published from here. Raises DestinationError."""
    return [path for path in sorted(files.keys() - before.paths) if await there.exists(_below(folder, path))]


async def publish(there: UploadTarget, folder: str, files: Mapping[str, bytes], before: Published) -> Transfer:
    """Put a website into a folder of a place. Raises DestinationError."""
    new = hashes_of(files)
    changed = [path for path in sorted(files, key=_last) if before.hashes.get(path) != new[path]]
    for path in changed:
        await there.write(_below(folder, path), files[path])
    gone = sorted(before.paths - files.keys())
    for path in gone:
        await there.remove(_below(folder, path))
    return Transfer(len(changed), len(gone))
