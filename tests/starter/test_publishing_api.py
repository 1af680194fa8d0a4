"""A website is published into a folder, to OpenSSH's own server, to a git repository behind it; nothing of others is touched."""

import asyncio
import subprocess
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import asyncssh
import pytest
from hypothesis import given
from hypothesis import strategies as st

from openacorn.net.destinations.destination import DestinationError
from openacorn.net.destinations.folder import FolderDestination
from openacorn.starter.publishing import SUBFOLDER, hashes_of, publish, strangers
from openacorn.starter.store.publications import Published
from tests.application import Application
from tests.asking import failing
from tests.net.ssh_server import SshServer, needs_sshd, ssh_server
from tests.outreach.contacted import app, folder
from tests.starter.test_sites_api import site_of

__all__ = ["app", "folder"]
FILES = st.dictionaries(
    st.sampled_from(["index.html", "style.css", "pictures/1-480.webp", "a.html", "b.html"]), st.binary(max_size=4)
)


@given(st.lists(FILES, max_size=5))
def test_a_folder_holds_the_last_website_and_whatever_else_was_there(
    tmp_path_factory: pytest.TempPathFactory, sites: list[dict[str, bytes]]
) -> None:
    root = tmp_path_factory.mktemp("web")
    (root / "theirs.txt").write_bytes(b"keep me")
    before, there = Published(frozenset(), frozenset(), {}), dict[str, bytes]()
    for files in sites:
        done = asyncio.run(publish(FolderDestination(root), "", files, before))
        assert done.written == sum(there.get(path) != body for path, body in files.items()), (
            "only what changed is written"
        )
        before, there = Published(frozenset({1}), frozenset(files), hashes_of(files)), files
        found = {str(path.relative_to(root)): path.read_bytes() for path in root.rglob("*") if path.is_file()}
        assert found == files | {"theirs.txt": b"keep me"}


def test_strangers_are_named_and_links_lead_nowhere(tmp_path: Path) -> None:
    root, outside = tmp_path / "web", tmp_path / "outside"
    root.mkdir()
    outside.mkdir()
    (root / "index.html").write_text("theirs")
    (root / "pictures").symlink_to(outside)
    place, nothing = FolderDestination(root), Published(frozenset(), frozenset(), {})
    assert asyncio.run(strangers(place, "", {"index.html": b"", "a.html": b""}, nothing)) == ["index.html"]
    with pytest.raises(DestinationError, match="leads out of"):
        asyncio.run(publish(place, "", {"pictures/x.webp": b"x"}, nothing))


@pytest.mark.parametrize("folder_name", ["..", "a/../b", "/etc", "a//b", ".ssh", "a b", "a/", "x" * 70])
def test_folders_that_lead_elsewhere(folder_name: str) -> None:
    assert SUBFOLDER.fullmatch(folder_name) is None


def published(app: Application, number: int, host: int, **more: Any) -> dict[str, Any]:
    asked = {"host_id": host, "folder": "harbour.example", "by": "Ada"} | more
    found: dict[str, Any] = app.post(f"/api/businesses/{number}/website/publish", asked)
    return found


@pytest.mark.world
def test_into_a_folder(app: Application, tmp_path: Path) -> None:
    number, _ = site_of(app)
    here = {"name": "Here", "kind": "folder", "address": str(tmp_path)}
    status, problem = failing(app, "PUT", "/api/website-hosts", here)
    assert (status, "outside the folders" in problem["what"]) == (422, True)
    app.put("/api/settings", {"values": {"delivery_folders": [str(tmp_path)]}})
    (host,) = app.put("/api/website-hosts", here | {"host_key": "no key at all"})
    assert host["fingerprint"] == "", "a folder has none"
    found = published(app, number, host["id"])
    assert found["publications"][0] | {"problem": "", "removed": 0} == found["publications"][0]
    assert (tmp_path / "harbour.example" / "index.html").exists()
    assert published(app, number, host["id"])["publications"][0]["written"] == 0
    assert "published the new website at Here" in [
        item["text"] for item in app.get(f"/api/businesses/{number}/activities")
    ]
    (tmp_path / "other").mkdir()
    (tmp_path / "other" / "index.html").write_text("theirs")
    status, problem = failing(
        app, "POST", f"/api/businesses/{number}/website/publish", {"host_id": host["id"], "folder": "other"}
    )
    assert (status, problem["where"]) == (422, "host")
    assert "index.html" in problem["what"]
    assert (tmp_path / "other" / "index.html").read_text() == "theirs"
    assert published(app, number, host["id"], folder="other", replace=True)["publications"][0]["written"] > 5
    for wrong in ({"folder": "../x"}, {"host_id": 999}):
        asked = {"host_id": host["id"], "folder": ""} | wrong
        assert failing(app, "POST", f"/api/businesses/{number}/website/publish", asked)[0] in {404, 422}
    assert app.post(f"/api/website-hosts/{host['id']}", method="DELETE") == []


@pytest.fixture(scope="module")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[SshServer]:
    with ssh_server(tmp_path_factory.mktemp("ssh")) as running:
        yield running


@needs_sshd
@pytest.mark.world
def test_by_sftp(app: Application, server: SshServer) -> None:
    number, _ = site_of(app)
    wanted = {"name": "Web host", "kind": "sftp", "address": f"sftp://127.0.0.1:{server.port}{server.root}", "account": server.user,
              "secret": server.key}  # fmt: skip
    status, problem = failing(app, "POST", "/api/website-hosts/key", wanted)
    assert (status, "private" in problem["what"]) == (422, True), "a private address is not reached unasked"
    app.put("/api/settings", {"values": {"trusted_hosts": ["127.0.0.1"]}})
    shown = app.post("/api/website-hosts/key", wanted)
    known = subprocess.run(
        ["ssh-keygen", "-lf", "-"], input=shown["host_key"], capture_output=True, text=True, check=True
    )
    assert shown["fingerprint"] in known.stdout
    assert failing(app, "PUT", "/api/website-hosts", wanted)[0] == 422, "a key that nobody confirmed"
    other = asyncssh.generate_private_key("ssh-ed25519")
    for wrong, why in (
        ({"host_key": other.export_public_key().decode().strip()}, "another key"),
        ({"secret": other.export_private_key().decode()}, "did not accept"),
        ({"secret": "-----BEGIN nonsense"}, "cannot be read"),
        ({"host_key": "ssh-ed25519 nonsense"}, "cannot be read"),
        ({"address": f"ftp://127.0.0.1:{server.port}/"}, "sftp://"),
    ):
        status, problem = failing(app, "PUT", "/api/website-hosts", wanted | {"host_key": shown["host_key"]} | wrong)
        assert (status, why in problem["what"]) == (422, True), problem
    (host,) = app.put("/api/website-hosts", wanted | {"host_key": shown["host_key"]})
    assert (host["secret_kept"], host["fingerprint"]) == (True, shown["fingerprint"])
    published(app, number, host["id"])
    there = server.root / "harbour.example"
    assert {"index.html", "style.css", "robots.txt"} <= {path.name for path in there.iterdir()}
    assert not list(there.glob("*.part"))
    first = (there / "index.html").stat().st_mtime_ns
    assert published(app, number, host["id"])["publications"][0]["written"] == 0
    assert (there / "index.html").stat().st_mtime_ns == first
    server.root.chmod(0o500)
    again = app.put("/api/website-hosts", wanted | {"id": host["id"], "secret": None, "name": "Renamed"})
    assert (again[0]["name"], again[0]["secret_kept"]) == ("Renamed", True)
    server.root.chmod(0o700)


@needs_sshd
@pytest.mark.world
def test_to_a_git_repository(app: Application, server: SshServer) -> None:
    number, _ = site_of(app)
    repository = server.root / "sites.git"
    subprocess.run(["git", "init", "-q", "--bare", str(repository)], check=True)
    app.put("/api/settings", {"values": {"trusted_hosts": ["127.0.0.1"]}})
    wanted = {"name": "Repository", "kind": "git", "address": f"ssh://{server.user}@127.0.0.1:{server.port}{repository}", "branch": "pages",
              "secret": server.key}  # fmt: skip
    shown = app.post("/api/website-hosts/key", wanted)
    assert failing(app, "PUT", "/api/website-hosts", wanted | {"address": f"file://{repository}"})[0] == 422
    hosts = app.put("/api/website-hosts", wanted | {"host_key": shown["host_key"]})
    host = next(item for item in hosts if item["kind"] == "git")
    published(app, number, host["id"])
    published(app, number, host["id"])

    def git(*arguments: str) -> str:
        return subprocess.run(
            ["git", "--git-dir", str(repository), *arguments], capture_output=True, text=True, check=True
        ).stdout

    assert len(git("log", "--format=%s", "pages").splitlines()) == 1, "what is as it was is no commit"
    assert "harbour.example/index.html" in git("ls-tree", "-r", "--name-only", "pages").split()
    subprocess.run(["rm", "-rf", str(repository)], check=True)
    status, problem = failing(
        app, "POST", f"/api/businesses/{number}/website/publish", {"host_id": host["id"], "folder": "x"}
    )
    assert (status, "git" in problem["what"]) == (422, True)
