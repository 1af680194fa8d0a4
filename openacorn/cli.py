"""The commands behind ./acorn."""

import asyncio
import contextlib
import os
import socket
import sys
from pathlib import Path
from typing import Annotated

import orjson
import typer

from openacorn.settings import Settings, SettingsError, load_settings
from openacorn.store.db import DatabaseTooNew

ROOT = Path(__file__).resolve().parents[1]
DEMO_FOLDER = ROOT / "data" / "demo"
DATA_FOLDER = ROOT / "data" / "main"
DEFAULT_PORT = 8710

app = typer.Typer(add_completion=False, no_args_is_help=True, pretty_exceptions_enable=False)
Port = Annotated[int, typer.Option(min=1, max=65535, help="Port on this machine.")]


class CommandError(Exception):
    """A command cannot go on; the message is the one line that says why and what to do."""


def _check_port(port: int) -> None:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            raise CommandError(f"port {port} is taken; choose another with --port N") from None


def serve_application(folder: Path, settings: Settings, port: int) -> None:
    """Run the application until it is told to stop."""
    import uvicorn

    from openacorn.api.app import create_app

    config = uvicorn.Config(
        create_app(folder, settings),
        host="127.0.0.1",
        port=port,
        log_level="warning",
        loop="uvloop",
        timeout_graceful_shutdown=2,
    )
    uvicorn.Server(config).run()


@app.command()
def serve(
    data: Annotated[Path, typer.Option(help="Where the data is kept.")] = DATA_FOLDER, port: Port = DEFAULT_PORT
) -> None:
    """The application for real use."""
    _check_port(port)
    settings = load_settings(data)
    print(f"Open Acorn: http://127.0.0.1:{port}/  (data in {data}; Ctrl-C stops it)")
    serve_application(data, settings, port)


@app.command()
def demo(
    port: Port = DEFAULT_PORT, reset: Annotated[bool, typer.Option("--reset", help="Start over.")] = False
) -> None:
    """Everything with demo data."""
    from openacorn.demo import run_demo

    _check_port(port)
    run_demo(DEMO_FOLDER, port, reset=reset, serve=serve_application)


def audit_settings() -> Settings:
    """Settings for audits at the terminal: the installation's, and for `*.example` the demo's world if it is there."""
    settings = load_settings(Path(os.environ.get("ACORN_DATA", DATA_FOLDER)))
    if settings.world is None:
        coast = load_settings(DEMO_FOLDER)
        if coast.world is not None:
            settings = settings.model_copy(update={"world": coast.world, "region": settings.region or coast.region})
    return settings


@app.command()
def audit(
    urls: Annotated[list[str] | None, typer.Argument(help="Addresses to audit.")] = None,
    file: Annotated[Path | None, typer.Option(help="A file of addresses, one a line.")] = None,
    as_json: Annotated[bool, typer.Option("--json", help="One JSON array.")] = False,
    ndjson: Annotated[bool, typer.Option("--ndjson", help="One JSON object a line, as they come.")] = False,
    rendered: Annotated[bool, typer.Option("--rendered", help="Open each site in a browser too.")] = False,
    pages: Annotated[int, typer.Option(min=5, max=1000, help="Most pages to read of each site.")] = 5,
    allow_private: Annotated[
        bool, typer.Option("--allow-private", help="Permit private and loopback addresses.")
    ] = False,
) -> None:
    """Audit any address and print its findings."""
    from openacorn.net.probes.browser import NoBrowser
    from openacorn.terminal_audit import audit_all, print_table

    wanted = list(urls or [])
    if file is not None:
        try:
            wanted += [line.strip() for line in file.read_text(encoding="utf-8").splitlines() if line.strip()]
        except (OSError, UnicodeDecodeError) as error:
            raise CommandError(f"{file} cannot be read: {error}") from None
    if not wanted:
        raise CommandError("no address given; try ./acorn audit www.example.com")
    if as_json and ndjson:
        raise CommandError("choose --json or --ndjson, not both")

    def told(result: dict[str, object]) -> None:
        if ndjson:
            sys.stdout.buffer.write(orjson.dumps(result) + b"\n")
            sys.stdout.buffer.flush()
        elif not as_json and not result["refused"]:
            print_table(result)

    work = audit_all(wanted, audit_settings(), allow_private=allow_private, rendered=rendered, pages=pages, told=told)
    try:
        results = asyncio.run(work)
    except NoBrowser as missing:
        raise CommandError(str(missing)) from None
    if as_json:
        sys.stdout.buffer.write(orjson.dumps(results, option=orjson.OPT_INDENT_2) + b"\n")
    refused = [str(result["url"]) for result in results if result["refused"]]
    if refused:
        raise CommandError(f"refused, a private address: {', '.join(refused)}; --allow-private permits it")


@app.command()
def match(
    file: Annotated[Path, typer.Argument(help="A CSV, XLSX, JSON or NDJSON file of listings.")],
    as_json: Annotated[bool, typer.Option("--json", help="One JSON array of clusters.")] = False,
    region: Annotated[str | None, typer.Option(help="Country of national phone numbers, say AU.")] = None,
    at: Annotated[
        float, typer.Option(min=0.05, max=1.0, help="Join at this probability; .99 is what sweeps merge at.")
    ] = 0.5,
) -> None:
    """Merge a file of listings by its headings, print the clusters."""
    from openacorn.core.columns import ColumnsError
    from openacorn.jobs.tables import FileError
    from openacorn.terminal_match import match_file, print_clusters

    home = load_settings(Path(os.environ.get("ACORN_DATA", DATA_FOLDER))).region
    try:
        told, listings, refused = match_file(file, (region or home or "").upper() or None, at)
    except (OSError, FileError, ColumnsError) as error:
        raise CommandError(f"{file} cannot be matched: {error}") from None
    for line in refused:
        print(line, file=sys.stderr)
    if as_json:
        sys.stdout.buffer.write(orjson.dumps(told) + b"\n")
    else:
        print_clusters(told, listings)


@app.command()
def bench(
    what: Annotated[str, typer.Argument(help="audit, match, desk, memory or pages")],
    as_json: Annotated[bool, typer.Option("--json", help="Figures as JSON.")] = False,
) -> None:
    """Figures beside peers and ceilings."""
    from openacorn.bench import BENCHES

    if what not in BENCHES:
        raise CommandError(f"there is no bench {what!r}; choose from {', '.join(BENCHES)}")
    figures, text = BENCHES[what]()
    print(orjson.dumps(figures, option=orjson.OPT_INDENT_2).decode() if as_json else text)


def main() -> None:
    """Run a command; every expected failure is one line and exit status 1."""
    from openacorn.sim.run import WorldError

    try:
        with contextlib.suppress(KeyboardInterrupt):
            app(standalone_mode=True)
    except (CommandError, SettingsError, DatabaseTooNew, WorldError) as error:
        print(f"acorn: {error}", file=sys.stderr)
        sys.exit(1)


if __name__ == "__main__":
    main()
