"""OpenSSH's own server on this machine, for whoever publishes by SFTP or git: keys alone, as the user who runs the tests."""

import getpass
import shutil
import subprocess
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

import pytest

from openacorn.sim.serve import free_ports

SSHD = shutil.which("sshd") or "/usr/sbin/sshd"
needs_sshd = pytest.mark.skipif(not Path(SSHD).exists(), reason="needs OpenSSH's server")
CONFIG = """
Port {port}
ListenAddress 127.0.0.1
HostKey {folder}/host_key
AuthorizedKeysFile {folder}/authorized
PidFile none
UsePAM no
StrictModes no
PasswordAuthentication no
PermitRootLogin prohibit-password
Subsystem sftp internal-sftp
"""


@dataclass(frozen=True, slots=True)
class SshServer:
    """key: a private key that it lets in; root: a folder to publish into."""

    port: int
    user: str
    key: str
    root: Path


def _key(path: Path) -> None:
    subprocess.run(["ssh-keygen", "-q", "-t", "ed25519", "-N", "", "-f", str(path)], check=True)


@contextmanager
def ssh_server(folder: Path) -> Iterator[SshServer]:
    _key(folder / "host_key")
    _key(folder / "user_key")
    shutil.copy(folder / "user_key.pub", folder / "authorized")
    (folder / "root").mkdir()
    Path("/run/sshd").mkdir(exist_ok=True)  # where it locks itself in before anybody has signed in
    (port,) = free_ports(1)
    (folder / "config").write_text(CONFIG.format(port=port, folder=folder))
    process = subprocess.Popen([SSHD, "-D", "-e", "-f", str(folder / "config")], stderr=(folder / "log").open("w"))
    try:
        for _ in range(200):
            if "Server listening" in (folder / "log").read_text() or process.poll() is not None:
                break
            time.sleep(0.05)
        assert process.poll() is None, (folder / "log").read_text()
        yield SshServer(port, getpass.getuser(), (folder / "user_key").read_text(), folder / "root")
    finally:
        process.terminate()
        process.wait(10)
