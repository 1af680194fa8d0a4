"""The commands behind ./acorn."""

import asyncio
import os
import sqlite3
import sys
from functools import partial
from pathlib import Path
from typing import Annotated

import orjson
import typer

from openacorn.collecting import collect_seldom
from openacorn.db.database import DatabaseError
from openacorn.db.folder import FolderError, locked
from openacorn.errors import AcornError
from openacorn.net.ports import LOOPBACK
from openacorn.progress import step
from openacorn.serving import (
    DATA_FOLDER,
    DEFAULT_PORT,
    CannotServe,
    Listening,
    check_port,
    serve_application,
)
from openacorn.settings import Settings
from openacorn.settings_file import SettingsError, load_settings
from openacorn.terminal_bulk import app as bulk_app
from openacorn.terminal_user import app as user_app

ROOT = Path(__file__).resolve().parents[1]
DEMO_FOLDER = ROOT / "data" / "demo"
INTERRUPTED = 130
"""What a command that was stopped by Ctrl-C returns (128 + SIGINT)."""

app = typer.Typer(add_completion=False, no_args_is_help=True, pretty_exceptions_enable=False)
app.add_typer(user_app, name="user")
app.add_typer(bulk_app, name="everything")
Port = Annotated[int, typer.Option(min=1, max=65535, help="Port on this machine.")]
Data = Annotated[Path, typer.Option(metavar="DIR", envvar="ACORN_DATA", help="Where the data is kept.")]
AsJson = Annotated[bool, typer.Option("--json", help="JSON on standard output alone.")]


class CommandError(Exception):
    """A command cannot go on; the message is the one line that says why and what to do."""


@app.command()
def serve(
    data: Data = DATA_FOLDER,
    port: Port = DEFAULT_PORT,
    listen: Annotated[
        str, typer.Option(metavar="ADDRESS", help="Of this machine, for your team to reach it.")
    ] = LOOPBACK,
    certificate: Annotated[Path | None, typer.Option(help="A PEM file: HTTPS without a proxy.")] = None,
    key: Annotated[Path | None, typer.Option(help="The certificate's key, a PEM file.")] = None,
) -> None:
    """Run the application for real use."""
    check_port(port, listen)
    _serve_own(data, Listening(port, listen, certificate, key))


def _serve_own(data: Path, at: Listening) -> None:
    from openacorn.db.backup import finish_restore

    with locked(data):
        finish_restore(data)
        settings = load_settings(data)
        serve_application(data, settings, at, f"data in {data}; Ctrl-C stops it")


@app.command()
def demo(
    port: Port = DEFAULT_PORT, reset: Annotated[bool, typer.Option("--reset", help="Start over.")] = False
) -> None:
    """Run the application with demo data: an invented coast, its businesses and their websites."""
    from openacorn.agency.leaving import Leaving
    from openacorn.demo.run import run_demo

    check_port(port)
    own = Path(os.environ.get("ACORN_DATA", DATA_FOLDER))
    leaving = Leaving(own)
    with locked(DEMO_FOLDER):
        run_demo(DEMO_FOLDER, port, reset=reset, serve=partial(serve_application, leaving=leaving))
    if leaving.asked:
        _serve_own(own, Listening(port))


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
    urls: Annotated[list[str] | None, typer.Argument(metavar="URL…", help="Addresses to audit.")] = None,
    file: Annotated[Path | None, typer.Option(help="A file of addresses, one a line.")] = None,
    as_json: AsJson = False,
    ndjson: Annotated[bool, typer.Option("--ndjson", help="One JSON object a line, as they come.")] = False,
    rendered: Annotated[bool, typer.Option("--rendered", help="Open each site in a browser too.")] = False,
    pages: Annotated[int, typer.Option(min=5, max=1000, help="Most pages to read of each site.")] = 5,
    allow_private: Annotated[
        bool, typer.Option("--allow-private", help="Permit private and loopback addresses.")
    ] = False,
) -> None:
    """Audit any website and print the findings."""
    from openacorn.gather.tables import FileError, open_text
    from openacorn.net.probes.browser_session import NoBrowser
    from openacorn.terminal_audit import audit_all, print_table

    wanted = list(urls or [])
    if file is not None:
        try:
            with open_text(file, file.name) as lines:
                wanted += [line.strip() for line in lines if line.strip()]
        except (OSError, UnicodeError, FileError) as error:
            raise CommandError(f"{file} cannot be read: {error}") from None
    if not wanted:
        raise CommandError("no address given; try ./acorn audit www.example.com")
    if as_json and ndjson:
        raise CommandError("choose --json or --ndjson, not both")

    def show(result: dict[str, object]) -> None:
        if ndjson:
            sys.stdout.buffer.write(orjson.dumps(result) + b"\n")
            sys.stdout.buffer.flush()
        elif not as_json and not result["refused"]:
            print_table(result)

    work = audit_all(wanted, audit_settings(), allow_private=allow_private, rendered=rendered, pages=pages, shown=show)
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
    as_json: AsJson = False,
    region: Annotated[str | None, typer.Option(metavar="CC", help="Country of national phone numbers, say AU.")] = None,
    at: Annotated[
        float,
        typer.Option(metavar="P", min=0.05, max=1.0, help="Join at this probability; .99 is what sweeps merge at."),
    ] = 0.5,
) -> None:
    """Merge a file of listings and print which rows are one business."""
    from openacorn.core.gather.file_columns import ColumnsError
    from openacorn.gather.tables import FileError
    from openacorn.terminal_match import match_file, print_clusters

    home = load_settings(Path(os.environ.get("ACORN_DATA", DATA_FOLDER))).region
    try:
        result, listings, refused = match_file(file, (region or home or "").upper() or None, at)
    except (OSError, FileError, ColumnsError) as error:
        raise CommandError(f"{file} cannot be matched: {error}") from None
    for line in refused:
        print(line, file=sys.stderr)
    if as_json:
        sys.stdout.buffer.write(orjson.dumps(result) + b"\n")
    else:
        print_clusters(result, listings)


@app.command()
def backup(
    file: Annotated[Path, typer.Argument(metavar="FILE", help="The backup to write.")], data: Data = DATA_FOLDER
) -> None:
    """Write the whole of the data to one file, also while the application runs."""
    from openacorn.db.backup import make_backup

    with step("backup") as shown:
        size = make_backup(data, file, lambda share: shown.update(share, f"{share:.0%} of the database"))
    print(f"{file}: {size / 1e6:,.1f} MB; it holds your log-ins' key: keep it where only you can read it")


@app.command()
def restore(
    file: Annotated[Path, typer.Argument(metavar="FILE", help="A backup, encrypted (.age) or not.")],
    data: Data = DATA_FOLDER,
    key: Annotated[Path | None, typer.Option(metavar="KEYFILE", help="The key of an encrypted backup.")] = None,
) -> None:
    """Put a backup back; what was there before is kept beside it."""
    from openacorn.agency.backing_up import opened
    from openacorn.db.backup import restore_backup

    with locked(data), opened(file, key, data) as plain, step("restore") as shown:
        earlier = restore_backup(plain, data, lambda share: shown.update(share, f"{share:.0%} unpacked"))
    print(f"{data}: restored from {file}" + (f"; what was there before is in {earlier}" if earlier else ""))


@app.command()
def doctor(data: Data = DATA_FOLDER, as_json: AsJson = False) -> None:
    """Tell what this machine lacks, with the remedy."""
    from openacorn.agency.health import HealthState, examine

    found = []
    for part in examine(data):
        found.append({"name": part.name, "state": str(part.state), "said": part.said, "remedy": part.remedy})
        if not as_json:
            print(f"{part.state:10}{part.name:13}{part.said}")
            if part.remedy and part.state is not HealthState.OK:
                print(f"{'':23}→ {part.remedy}")
    if as_json:
        sys.stdout.buffer.write(orjson.dumps(found, option=orjson.OPT_INDENT_2) + b"\n")


@app.command()
def mcp(
    url: Annotated[str, typer.Option(help="Where the application runs.")] = f"http://127.0.0.1:{DEFAULT_PORT}",
    write: Annotated[bool, typer.Option(help="Also offer what changes something: shortlists, notes.")] = False,
    token: Annotated[str, typer.Option(envvar="ACORN_TOKEN", help="Where there are accounts: a token of yours.")] = "",
) -> None:
    """Let an assistant program ask a running application, by the Model Context Protocol on standard input and output."""
    from openacorn.mcp_server import make_server

    make_server(url, token, write=write).run()


@app.command()
def bench(
    what: Annotated[
        str,
        typer.Argument(
            metavar="audit|desk|import|match|memory|messages|opening|pages|plans|profile|team|websites|wild",
            help="Which part to measure.",
        ),
    ] = "",
    as_json: AsJson = False,
    check: Annotated[
        bool, typer.Option("--check", help="Compare ratios with those on record; fail if one fell by more than 15 %.")
    ] = False,
) -> None:
    """Print how right and how fast a part is, beside ceilings and other libraries."""
    from bench import BENCHES

    if check:
        from bench.check import bench_check

        figures, text, held = bench_check()
        print(orjson.dumps(figures, option=orjson.OPT_INDENT_2).decode() if as_json else text)
        raise typer.Exit(0 if held else 1)
    if what not in BENCHES:
        raise CommandError(
            f"{f'there is no bench {what!r}' if what else 'say what to measure'}; choose from {', '.join(BENCHES)}"
        )
    figures, text = BENCHES[what]()
    print(orjson.dumps(figures, option=orjson.OPT_INDENT_2).decode() if as_json else text)


@app.command("test")
def run_tests(
    what: Annotated[str, typer.Argument(metavar="fast", help="Leave out what needs a browser.")] = "",
) -> None:
    """Run all tests; "fast" leaves out those that need a browser."""
    if what not in {"", "fast"}:
        raise CommandError(f"there is no kind of test {what!r}; usage: ./acorn test [fast]")
    os.chdir(ROOT)
    os.execv(sys.executable, [sys.executable, "-m", "tests.run", *filter(None, [what])])


def main() -> None:
    """Run a command; every expected failure is one line and exit status 1."""
    from openacorn.db.backup import BackupError
    from openacorn.sim.run import WorldError

    expected = (
        CommandError,
        CannotServe,
        AcornError,
        SettingsError,
        DatabaseError,
        FolderError,
        BackupError,
        WorldError,
    )
    collect_seldom()
    try:
        status = app(prog_name="./acorn", standalone_mode=False)
        if status == INTERRUPTED:
            print("acorn: stopped", file=sys.stderr)
            status = 1
    except typer.TyperException as error:  # a flag or a value that the command does not take
        print(f"acorn: {getattr(error, 'format_message', error.__str__)().rstrip('.')}; see --help", file=sys.stderr)
        status = 1
    except (*expected, sqlite3.OperationalError) as error:
        remedy = f"; {error.remedy}" if isinstance(error, AcornError) else ""
        print(f"acorn: {error}{remedy}", file=sys.stderr)
        status = 1
    sys.exit(status)


if __name__ == "__main__":
    main()
