"""Deliveries that fail: nothing counts as exported, each target waits for itself, and one fault stops no other delivery."""

import asyncio
import http.server
import json
import tempfile
import threading
from collections.abc import Iterator
from pathlib import Path

import pytest

from openacorn.business.snapshot import Snapshot
from openacorn.business.store.listings import put_listings
from openacorn.core.gather.listing import Listing
from openacorn.db.database import Database
from openacorn.desk.deliveries import Deliveries
from openacorn.desk.exports import Exporter
from openacorn.desk.store import presets
from openacorn.desk.store.presets import Delivery, ExportSpec
from openacorn.match.merging import merge_new_listings
from openacorn.net import webhook
from openacorn.net.destinations.folder import FolderRefused, allowed_folder
from openacorn.runs.store import sweeps
from openacorn.runs.store.sweeps import Plan
from openacorn.settings import Settings

CHECKS = ("title",)
AT = "2026-11-10T12:00:00+00:00"


class Hook(http.server.ThreadingHTTPServer):
    """A webhook that answers with `status` and keeps what it took."""

    status = 500

    def __init__(self) -> None:
        self.taken: list[list[str]] = []
        super().__init__(("127.0.0.1", 0), Taker)


class Taker(http.server.BaseHTTPRequestHandler):
    def do_POST(self) -> None:
        hook = self.server
        assert isinstance(hook, Hook)
        body = self.rfile.read(int(self.headers["Content-Length"])).splitlines()
        if hook.status < 400:
            hook.taken.append([json.loads(line)["name"] for line in body])
        self.send_response(hook.status)
        self.end_headers()

    def log_message(self, format: str, *args: object) -> None:
        """Keep quiet."""


@pytest.fixture
def hook() -> Iterator[Hook]:
    server = Hook()
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    yield server
    server.shutdown()
    server.server_close()
    thread.join()


def add(database: Database, *names: str) -> None:
    with database.write() as conn:
        listings = [Listing(source="file:1", source_id=name, name=name, town="Gannet Bay") for name in names]
        plan = sweeps.plan_to_json(Plan(("vets",), ()))
        run = sweeps.add_run(conn, sweeps.add_sweep(conn, "list", plan, AT), AT)
        merge_new_listings(conn, put_listings(conn, run, "vets", listings, AT).to_merge, Settings())


def office(database: Database) -> Deliveries:
    settings = Settings(trusted_hosts=["127.0.0.1", "no-such-host.invalid"], delivery_folders=[tempfile.gettempdir()])
    exporter = Exporter(database, Snapshot(database, lambda: CHECKS), settings, lambda: CHECKS)
    return Deliveries(database, exporter, settings)


def keep(database: Database, name: str, export: ExportSpec) -> int:
    with database.write() as conn:
        return presets.put_preset(conn, name, export, "now")


def last(database: Database) -> dict[tuple[int, str], Delivery]:
    with database.read() as conn:
        return {(item.preset_id, item.target): item for item in presets.list_deliveries(conn)}


def test_what_failed_is_delivered_later_and_each_target_waits_for_itself(
    database: Database, tmp_path: Path, hook: Hook
) -> None:
    out = tmp_path / "out"
    url = f"http://127.0.0.1:{hook.server_port}/in"
    both = keep(database, "new ones", ExportSpec("ndjson", ("name",), {}, "name", True, str(out), url))
    add(database, "Gull Vets", "Heron Vets")
    deliveries = office(database)
    (fault,) = asyncio.run(deliveries.deliver_all())
    assert fault == f"the export “new ones” was not delivered to {url}: it answered HTTP 500; it is tried again"
    (file,) = out.iterdir()
    assert len(file.read_text().splitlines()) == 2
    waiting = last(database)[(both, "webhook")]
    assert (waiting.rows, waiting.attempts, waiting.next_at is not None) == (2, 1, True)
    assert last(database)[(both, "folder")].error == ""
    file.unlink()
    add(database, "Tern Vets")
    hook.status = 204
    assert asyncio.run(office(database).deliver_all()) == []  # another process: it waits in the store
    (file,) = out.iterdir()
    assert [json.loads(line)["name"] for line in file.read_text().splitlines()] == ["Tern Vets"]
    assert hook.taken == [["Gull Vets", "Heron Vets", "Tern Vets"]]
    assert last(database)[(both, "webhook")].next_at is None


@pytest.mark.parametrize(
    ("host", "says"), [("127.0.0.1:9", "connection refused"), ("no-such-host.invalid", "name does not resolve")]
)
def test_why_a_webhook_was_not_reached_is_said_in_plain_words(host: str, says: str, database: Database) -> None:
    keep(database, "x", ExportSpec("ndjson", ("name",), {}, "name", False, "", f"http://{host}/in"))
    (fault,) = asyncio.run(office(database).deliver_all())
    assert (
        fault
        == f"the export “x” was not delivered to http://{host}/in: it could not be reached, {says}; it is tried again"
    )


def test_a_delivery_that_is_due_is_tried_again_and_rests_longer_each_time(database: Database, hook: Hook) -> None:
    preset = keep(
        database, "x", ExportSpec("ndjson", ("name",), {}, "name", True, "", f"http://127.0.0.1:{hook.server_port}/")
    )
    add(database, "Gull Vets")
    deliveries = office(database)
    rests = []
    for _ in range(3):
        asyncio.run(deliveries.deliver(preset))
        found = last(database)[(preset, "webhook")]
        assert found.next_at is not None
        rests.append(
            int(found.next_at[14:16]) * 60
            + int(found.next_at[17:19])
            - int(found.tried_at[14:16]) * 60
            - int(found.tried_at[17:19])
        )
    assert [rest % 3600 for rest in rests] == [60, 300, 900]
    hook.status = 200
    asyncio.run(deliveries.deliver_waiting())
    assert hook.taken == []  # not due yet
    with database.write() as conn:
        conn.execute("UPDATE delivery SET next_at = '2026-01-01T00:00:00+00:00'")
    asyncio.run(deliveries.deliver_waiting())
    asyncio.run(deliveries.deliver_waiting())
    assert hook.taken == [["Gull Vets"]]


def test_a_preset_that_names_a_check_that_is_gone_stops_no_other_delivery(database: Database, tmp_path: Path) -> None:
    keep(database, "a", ExportSpec("ndjson", ("check.gone",), {}, "name", False, str(tmp_path / "a")))
    keep(database, "b", ExportSpec("ndjson", ("name",), {"check.gone": "gap"}, "name", False, str(tmp_path / "b")))
    (tmp_path / "c").write_text("a file where the folder should be")
    keep(database, "c", ExportSpec("ndjson", ("name",), {}, "name", False, str(tmp_path / "c")))
    keep(database, "d", ExportSpec("ndjson", ("name",), {}, "name", False, str(tmp_path / "d")))
    add(database, "Gull Vets")
    faults = asyncio.run(office(database).deliver_all())
    assert [fault.partition("”")[0] for fault in faults] == ["the export “a", "the export “b", "the export “c"]
    assert "there is no column 'check.gone' to export" in faults[0]
    assert "gone" in faults[1]
    assert "File exists" in faults[2]
    assert (tmp_path / "d").is_dir()


ALLOWED = [
    ("", True), ("weekly", True), ("weekly/vets", True), ("{root}/out", True), ("{root}", True),
    ("..", False), ("weekly/../../x", False), ("/etc", False), ("{root}/../x", False), ("{root}x", False), ("link/x", False),
    ("~/x", False), ("a\0b", False),
]  # fmt: skip


@pytest.mark.parametrize(("wanted", "allowed"), ALLOWED, ids=[wanted or "none" for wanted, _ in ALLOWED])
def test_deliveries_stay_in_the_folders_that_the_settings_allow(tmp_path: Path, wanted: str, allowed: bool) -> None:
    data, root = tmp_path / "data", tmp_path / "root"
    (data / "deliveries").mkdir(parents=True)
    (data / "deliveries" / "link").symlink_to("/tmp")
    settings = Settings(delivery_folders=[str(root)])
    if allowed:
        assert allowed_folder(settings, data, wanted.format(root=root))
    else:
        with pytest.raises(FolderRefused, match=r"outside the folders|no folder"):
            allowed_folder(settings, data, wanted.format(root=root))


def test_a_webhook_is_not_led_elsewhere(hook: Hook) -> None:
    class Redirecting(http.server.BaseHTTPRequestHandler):
        def do_POST(self) -> None:
            self.send_response(307)
            self.send_header("Location", f"http://127.0.0.1:{hook.server_port}/in")
            self.send_header("Content-Length", "0")
            self.end_headers()

        def log_message(self, format: str, *args: object) -> None:
            """Keep quiet."""

    hook.status = 204
    server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), Redirecting)
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    url = f"http://127.0.0.1:{server.server_port}/"
    try:
        fault = asyncio.run(webhook.post(Settings(trusted_hosts=["127.0.0.1"]), url, b"{}", "application/json"))
        inside = asyncio.run(webhook.post(Settings(), url, b"{}", "application/json"))
    finally:
        server.shutdown()
        server.server_close()
        thread.join()
    assert "a redirect, which is not followed" in fault
    assert "trusted hosts" in inside
    assert hook.taken == []
