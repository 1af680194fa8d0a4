"""Beyond this machine: Debian's nginx with the configuration that ships, HTTPS by itself, and the unit for systemd."""

import http.client
import json
import re
import shutil
import socket
import ssl
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from openacorn.settings_file import save_settings
from openacorn.sim.serve import free_ports
from tests.application import ROOT, Application, application
from tests.conftest import Coast
from tests.team.person import PASSWORD, Person, first_owner

pytestmark = pytest.mark.world
DEPLOY = ROOT / "docs" / "deploy"
DESK, PAGES = "desk.agency.example", "pages.agency.example"
ADA = {"email": "ada@wrenfold.example", "password": PASSWORD}
needs_nginx = pytest.mark.skipif(shutil.which("nginx") is None, reason="nginx is not installed")


def certificate(folder: Path) -> tuple[Path, Path]:
    """A certificate for both names, and its key."""
    cert, key = folder / "cert.pem", folder / "key.pem"
    names = f"subjectAltName=DNS:{DESK},DNS:{PAGES}"
    made = [
        "openssl",
        "req",
        "-x509",
        "-newkey",
        "rsa:2048",
        "-nodes",
        "-days",
        "2",
        "-subj",
        "/CN=test",
        "-addext",
        names,
    ]
    subprocess.run([*made, "-out", cert, "-keyout", key], check=True, capture_output=True)
    return cert, key


def ask(port: int, cert: Path, host: str, path: str, method: str = "GET", body: Any = None, **headers: str) -> Any:
    """One HTTPS request as from outside: (status, body, headers)."""
    context = ssl.create_default_context(cafile=str(cert))
    raw = socket.create_connection(("127.0.0.1", port), timeout=60)
    conn = http.client.HTTPSConnection(host, port, context=context)
    conn.sock = context.wrap_socket(raw, server_hostname=host if host.endswith(".agency.example") else DESK)
    sent = {"Host": f"{host}:{port}", "Content-Type": "application/json"}
    conn.request(
        method,
        path,
        None if body is None else json.dumps(body),
        sent | {k.replace("_", "-"): v for k, v in headers.items()},
    )
    answer = conn.getresponse()
    found = (answer.status, answer.read(), answer.headers)
    conn.close()
    return found


class Proxied:
    """The application behind nginx."""

    def __init__(self, app: Application, port: int, cert: Path) -> None:
        self.app, self.port, self.cert = app, port, cert

    def ask(self, host: str, path: str, method: str = "GET", body: Any = None, **headers: str) -> Any:
        return ask(self.port, self.cert, host, path, method, body, **headers)


@pytest.fixture(scope="module")
def proxied(coast: Coast, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Proxied]:
    folder = tmp_path_factory.mktemp("proxied")
    (port,) = free_ports(1)
    cert, key = certificate(folder)
    settings = coast.settings.model_copy(
        update={"application_address": f"https://{DESK}:{port}", "public_address": f"https://{PAGES}:{port}", "trusted_proxies": ["127.0.0.1"]}
    )  # fmt: skip
    with application(folder / "data", settings, coast.read("places.json")) as running:
        shipped = (DEPLOY / "nginx.conf").read_text()
        site = re.sub(r"/etc/ssl/agency/\w+\.pem", str(cert), re.sub(r"/etc/ssl/agency/\w+\.key", str(key), shipped))
        site = site.replace("listen 443", f"listen 127.0.0.1:{port}").replace(
            "127.0.0.1:8710", f"127.0.0.1:{running.port}"
        )
        site = site.replace("127.0.0.1:8711", running.owners_url.removeprefix("http://"))
        (folder / "tmp").mkdir()
        places = " ".join(
            f"{part}_temp_path {folder}/tmp;" for part in ("client_body", "proxy", "fastcgi", "uwsgi", "scgi")
        )
        (folder / "nginx.conf").write_text(
            f"daemon off; pid {folder}/nginx.pid; error_log {folder}/error.log; worker_processes 1;\n"
            f"events {{}}\nhttp {{ access_log off; {places}\n{site}\n}}\n"
        )
        server = subprocess.Popen(["nginx", "-p", folder, "-c", folder / "nginx.conf"], stderr=subprocess.PIPE)
        try:
            for _ in range(200):
                with socket.socket() as probe:
                    if probe.connect_ex(("127.0.0.1", port)) == 0:
                        break
                assert server.poll() is None, server.stderr and server.stderr.read()
                time.sleep(0.05)
            yield Proxied(running, port, cert)
        finally:
            server.terminate()
            server.wait(30)


@needs_nginx
def test_behind_nginx_there_is_the_team_and_owners_pages_and_nothing_else(proxied: Proxied) -> None:
    status, body, _ = proxied.ask(DESK, "/api/businesses")
    assert (status, json.loads(body)["error"]["where"]) == (403, "accounts"), "without accounts nobody outside gets in"
    assert proxied.ask(DESK, "/api/first-owner", "POST", {**ADA, "name": "Mallory"})[0] == 403
    first_owner(proxied.app)
    assert proxied.ask(DESK, "/api/businesses")[0] == 401
    status, body, headers = proxied.ask(
        DESK, "/api/session", "POST", ADA, X_Forwarded_For="10.9.9.9", Forwarded="for=10.9.9.9"
    )
    assert status == 200
    assert headers["Strict-Transport-Security"]
    shown = {"Cookie": headers["Set-Cookie"].split(";")[0], "X-CSRF-Token": json.loads(body)["csrf"]}
    status, body, _ = proxied.ask(DESK, "/api/credentials", **shown)
    assert "10.9.9.9" not in body.decode(), "what a visitor says of themselves is not believed"
    status, page, _ = proxied.ask(DESK, "/businesses", **shown)
    assert status == 200
    assert b"<script" in page
    assert proxied.ask(DESK, "/api/shortlists", "POST", {"name": "From afar"}, **shown)[0] == 201
    for path in (
        "/",
        "/api/status",
        "/api/session",
        "/assets/",
        "/businesses",
        "/../api/status",
        "//api/status",
        "/%2e%2e/api/me",
    ):
        status, body, _ = proxied.ask(PAGES, path, **shown)
        assert status in {400, 404}, path
        assert b"wrenfold" not in body.lower(), path
    with pytest.raises((http.client.RemoteDisconnected, ConnectionError, ssl.SSLError)):
        proxied.ask("127.0.0.1", "/api/status", **shown)
    with pytest.raises((http.client.RemoteDisconnected, ConnectionError, ssl.SSLError)):
        proxied.ask("evil.example", "/api/status", **shown)


@needs_nginx
def test_a_name_smuggled_past_the_proxy_is_refused(proxied: Proxied) -> None:
    person = Person(proxied.app)
    for host in ("evil.example", DESK, f"{DESK}:{proxied.port}.evil.example", PAGES):
        through = person.ask("GET", "/api/status", Host=host, X_Forwarded_For="203.0.113.9", X_Forwarded_Proto="https")
        assert through.status == 400, host
    assert person.ask("GET", "/api/status", Host=f"{DESK}:{proxied.port}", X_Forwarded_For="203.0.113.9").status == 401


def serve(folder: Path, *more: str) -> subprocess.Popen[str]:
    command = [
        sys.executable,
        "-m",
        "openacorn.cli",
        "serve",
        "--data",
        str(folder),
        "--port",
        str(free_ports(1)[0]),
        *more,
    ]
    return subprocess.Popen(command, cwd=ROOT, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)


def test_other_machines_are_let_in_by_accounts_and_encryption_alone(coast: Coast, tmp_path: Path) -> None:
    data = tmp_path / "data"
    cert, key = certificate(tmp_path)
    https = ("--certificate", str(cert), "--key", str(key))

    def refusal(*more: str) -> str:
        process = serve(data, "--listen", "127.0.0.2", *more)
        _, said = process.communicate(timeout=120)
        assert process.returncode == 1
        assert len(said.strip().splitlines()) == 1
        return said

    data.mkdir()
    save_settings(data, coast.settings)
    assert "accounts" in refusal(*https)
    with application(tmp_path / "first", coast.settings, coast.read("places.json")) as running:
        first_owner(running)
    shutil.copytree(tmp_path / "first", data, dirs_exist_ok=True)
    assert "address" in refusal(*https)
    save_settings(data, coast.settings.model_copy(update={"application_address": f"https://{DESK}"}))
    assert "unencrypted" in refusal()
    assert "belong together" in refusal("--certificate", str(cert))
    process = serve(data, "--listen", "127.0.0.2", *https)
    try:
        assert process.stdout is not None
        first = process.stdout.readline()
        assert first.startswith("Open Acorn: https://127.0.0.2:")
        port = int(first.split(":")[3].split("/")[0])
        context = ssl.create_default_context(cafile=str(cert))
        raw = socket.create_connection(("127.0.0.2", port), timeout=60)
        conn = http.client.HTTPSConnection(DESK, port, context=context)
        conn.sock = context.wrap_socket(raw, server_hostname=DESK)
        conn.request("POST", "/api/session", json.dumps(ADA), {"Host": DESK, "Content-Type": "application/json"})
        assert conn.getresponse().status == 200
        conn.close()
    finally:
        process.terminate()
        process.communicate(timeout=60)


@pytest.mark.skipif(shutil.which("systemd-analyze") is None, reason="systemd is not installed")
def test_the_unit_for_systemd_is_sound_and_hardened(tmp_path: Path) -> None:
    unit = tmp_path / "open-acorn.service"
    text = (DEPLOY / "open-acorn.service").read_text()
    unit.write_text(text.replace("/opt/open-acorn", str(ROOT)))
    verified = subprocess.run(["systemd-analyze", "verify", unit], capture_output=True, text=True)
    assert str(unit.name) not in verified.stderr, verified.stderr
    judged = ["systemd-analyze", "security", "--offline=true", "--threshold=25", "--no-pager", str(unit)]
    done = subprocess.run(judged, capture_output=True, text=True)
    assert done.returncode == 0, done.stdout[-300:]
