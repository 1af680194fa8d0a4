"""A branch of a git repository, by HTTPS or SSH: cloned, changed, committed, pushed."""

import asyncio
import base64
import os
import shutil
import tempfile
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path
from urllib.parse import urlsplit

from openacorn.net.destinations.destination import DestinationError
from openacorn.net.destinations.folder import FolderDestination
from openacorn.net.destinations.ssh_login import PRIVATE_KEY, SshLogin

SECONDS = 180.0
SCHEMES = ("https", "ssh")
LONGEST_ERROR = 300
ALLOWED = ("PATH", "HOME", "LANG", "SSL_CERT_FILE")


def _environment(login: SshLogin, folder: Path) -> dict[str, str]:
    """What git needs to sign in, and nothing that would make it ask or read the user's own settings."""
    found = {name: os.environ[name] for name in ALLOWED if name in os.environ} | {
        "GIT_TERMINAL_PROMPT": "0", "GIT_CONFIG_NOSYSTEM": "1", "GIT_CONFIG_GLOBAL": os.devnull,
        "GIT_ALLOW_PROTOCOL": ":".join(SCHEMES), "LC_ALL": "C",
    }  # fmt: skip
    if urlsplit(login.address).scheme == "https":
        if login.secret:
            # not among the arguments, which every user of the machine can read
            word = base64.b64encode(f"{login.user or 'git'}:{login.secret}".encode()).decode()
            found |= {
                "GIT_CONFIG_COUNT": "1", "GIT_CONFIG_KEY_0": "http.extraHeader",
                "GIT_CONFIG_VALUE_0": f"Authorization: Basic {word}",
            }  # fmt: skip
        return found
    key, known = folder / "key", folder / "known_hosts"
    if login.secret.lstrip().startswith(PRIVATE_KEY):
        key.touch(0o600)
        key.write_text(login.secret.strip() + "\n")
    host, port = login.host
    known.write_text(f"{host if port == 22 else f'[{host}]:{port}'} {login.host_key}\n")
    options = (
        f"-F none -o BatchMode=yes -o IdentitiesOnly=yes -o StrictHostKeyChecking=yes -o UserKnownHostsFile={known}"
    )
    return found | {"GIT_SSH_COMMAND": f"ssh -i {key} {options}" if key.exists() else f"ssh {options}"}


async def _git(environment: dict[str, str], *arguments: str, folder: Path) -> str:
    """Run git; return what it printed. Raises DestinationError."""
    process = await asyncio.create_subprocess_exec(
        "git", *arguments, cwd=folder, env=environment, stdin=asyncio.subprocess.DEVNULL, stdout=asyncio.subprocess.PIPE,
        stderr=asyncio.subprocess.PIPE,
    )  # fmt: skip
    try:
        async with asyncio.timeout(SECONDS):
            out, problem = await process.communicate()
    except TimeoutError:
        process.kill()
        await process.wait()
        raise DestinationError(f"git {arguments[0]} took longer than {SECONDS:.0f} seconds") from None
    if process.returncode != 0:
        said = " ".join(problem.decode(errors="replace").split())
        raise DestinationError(f"git {arguments[0]} failed: {said[-LONGEST_ERROR:]}")
    return out.decode(errors="replace")


def check_address(login: SshLogin) -> None:
    """Raises DestinationError for what is no address of a repository that is reached safely, or if git is not installed."""
    if urlsplit(login.address).scheme not in SCHEMES or not login.host[0]:
        raise DestinationError("the address of a repository begins with https:// or ssh://")
    if shutil.which("git") is None:
        raise DestinationError("git is not installed on this machine")


@asynccontextmanager
async def git_destination(
    login: SshLogin, branch: str, author: tuple[str, str], message: str
) -> AsyncIterator[FolderDestination]:
    """A branch as a place; what was changed is committed and pushed at the end. author: (name, e-mail). Raises DestinationError."""
    check_address(login)
    with tempfile.TemporaryDirectory(prefix="acorn-git-") as name:
        folder = Path(name)
        environment, tree = _environment(login, folder), folder / "tree"
        refs = await _git(environment, "ls-remote", "--heads", "--", login.address, folder=folder)
        if f"refs/heads/{branch}" in refs.split():
            await _git(
                environment, "clone", "-q", "--depth", "1", "--branch", branch, "--", login.address, str(tree), folder=folder
            )  # fmt: skip
        else:
            await _git(environment, "init", "-q", f"--initial-branch={branch}", str(tree), folder=folder)
            await _git(environment, "remote", "add", "origin", login.address, folder=tree)
        yield FolderDestination(tree)
        await _git(environment, "add", "--all", folder=tree)
        if not await _git(environment, "status", "--porcelain", folder=tree):
            return
        who = ("-c", f"user.name={author[0]}", "-c", f"user.email={author[1]}")
        await _git(environment, *who, "commit", "-q", "-m", message, folder=tree)
        await _git(environment, "push", "-q", "origin", f"HEAD:refs/heads/{branch}", folder=tree)
