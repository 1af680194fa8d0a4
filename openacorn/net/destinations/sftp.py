"""A folder on a server, by SFTP (SSH File Transfer Protocol; the library speaks version 3, as OpenSSH does)."""

import asyncio
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import PurePosixPath
from urllib.parse import unquote, urlsplit

import asyncssh

from openacorn.net.client import Client
from openacorn.net.destinations.destination import DestinationError
from openacorn.net.destinations.folder import PART
from openacorn.net.destinations.ssh_login import PRIVATE_KEY, SshLogin
from openacorn.net.errors import FetchError
from openacorn.settings import Settings

SECONDS = 30.0


async def _guarded(settings: Settings, login: SshLogin) -> tuple[str, int]:
    """The server's address, after the guard that holds for every request."""
    try:
        async with Client(settings) as client:
            return await client.address(*login.host)
    except FetchError as error:
        raise DestinationError(f"{login.host[0]} cannot be reached: {error.detail}") from error


async def host_key_of(settings: Settings, login: SshLogin) -> str:
    """The key that the server shows, as known_hosts files hold it. Raises DestinationError."""
    address, port = await _guarded(settings, login)
    try:
        async with asyncio.timeout(SECONDS):
            key = await asyncssh.get_server_host_key(address, port)
    except (OSError, asyncssh.Error, TimeoutError) as error:
        raise DestinationError(f"{login.host[0]} does not answer by SSH: {error or 'it took too long'}") from error
    if key is None:
        raise DestinationError(f"{login.host[0]} shows no key")
    return key.export_public_key().decode().strip()


def fingerprint(host_key: str) -> str:
    """A key's fingerprint, as the tools of servers print it. Raises DestinationError for what is no key."""
    try:
        return asyncssh.import_public_key(host_key).get_fingerprint()
    except (asyncssh.KeyImportError, ValueError) as error:
        raise DestinationError(f"the server’s key cannot be read: {error}") from error


def _refusal(error: Exception, host: str) -> str:
    if isinstance(error, asyncssh.PermissionDenied):
        return f"{host} did not accept the user name with this password or key"
    if isinstance(error, asyncssh.HostKeyNotVerifiable):
        return f"{host} shows another key than the one that was confirmed: look into it before you go on"
    if isinstance(error, asyncssh.KeyImportError):
        return f"the private key cannot be read: {error}"
    return f"{host}: {error or 'it took too long'}"


class SftpDestination:
    """A folder on a server as a place."""

    def __init__(self, sftp: asyncssh.SFTPClient, root: str, host: str) -> None:
        self._sftp, self._root, self._host = sftp, PurePosixPath(root or "."), host

    async def exists(self, path: str) -> bool:
        """Is there a file?"""
        try:
            return await self._sftp.exists(str(self._root / path))
        except (OSError, asyncssh.Error) as error:
            raise DestinationError(_refusal(error, self._host)) from error

    async def write(self, path: str, body: bytes) -> None:
        """Put a file there in one step."""
        target = self._root / path
        try:
            await self._sftp.makedirs(str(target.parent), exist_ok=True)
            async with self._sftp.open(f"{target}{PART}", "wb") as file:
                await file.write(body)
            await self._sftp.posix_rename(f"{target}{PART}", str(target))
        except (OSError, asyncssh.Error) as error:
            raise DestinationError(f"{target} cannot be written: {_refusal(error, self._host)}") from error

    async def remove(self, path: str) -> None:
        """Take a file away, if it is there."""
        try:
            await self._sftp.remove(str(self._root / path))
        except asyncssh.SFTPNoSuchFile:
            return
        except (OSError, asyncssh.Error) as error:
            raise DestinationError(f"{path} cannot be removed: {_refusal(error, self._host)}") from error


@asynccontextmanager
async def sftp_destination(settings: Settings, login: SshLogin) -> AsyncIterator[SftpDestination]:
    """The folder that an address sftp://host[:port]/path names. Raises DestinationError, also for a server with another key."""
    host, _ = login.host
    address, port = await _guarded(settings, login)
    try:
        keys = [asyncssh.import_private_key(login.secret)] if login.secret.lstrip().startswith(PRIVATE_KEY) else []
        known = asyncssh.import_known_hosts(f"{host} {login.host_key}\n")
        async with asyncio.timeout(SECONDS):
            connection = await asyncssh.connect(
                address, port, username=login.user, password=None if keys else login.secret, client_keys=keys,
                known_hosts=known, host_key_alias=host, agent_path=None, config=None,
            )  # fmt: skip
    except (OSError, asyncssh.Error, asyncssh.KeyImportError, ValueError, TimeoutError) as error:
        raise DestinationError(_refusal(error, host)) from error
    async with connection, connection.start_sftp_client() as sftp:
        yield SftpDestination(sftp, unquote(urlsplit(login.address).path), host)
