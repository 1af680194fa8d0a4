"""`./acorn user`: accounts from the terminal of the machine itself, for the first one and for who is locked out."""

from pathlib import Path
from typing import Annotated

import typer

from openacorn.core.team.permission import ROLES
from openacorn.db.database import Database
from openacorn.db.folder import DATABASE
from openacorn.net.ports import LOOPBACK
from openacorn.serving import DATA_FOLDER, DEFAULT_PORT
from openacorn.settings_file import load_settings
from openacorn.team.identity import EVERYBODY, Identities
from openacorn.team.people import account_of, add_account, all_accounts, drop_codes_of, switch
from openacorn.team.signing_in import SigningIn

app = typer.Typer(no_args_is_help=True, help="Accounts of your team: add, make a link for a new password, switch off.")
Email = Annotated[str, typer.Argument(metavar="EMAIL", help="The person's e-mail address.")]
Data = Annotated[Path, typer.Option(metavar="DIR", envvar="ACORN_DATA", help="Where the data is kept.")]


def _open(data: Path) -> tuple[Database, SigningIn]:
    database = Database(data / DATABASE)
    return database, SigningIn(data, database, Identities(database, load_settings(data)))


def _print_link(data: Path, database: Database, signing_in: SigningIn, email: str) -> None:
    with database.read() as conn:
        account = account_of(conn, email)
    here = load_settings(data).application_address or f"http://{LOOPBACK}:{DEFAULT_PORT}"
    print(f"{account.name} ({account.role}) chooses a password here, once and within two days:")
    print(f"{here}/welcome#{signing_in.make_link(account.id)}")


@app.command("list")
def list_users(data: Data = DATA_FOLDER) -> None:
    """Print everybody."""
    database, _ = _open(data)
    with database.read() as conn:
        for account in all_accounts(conn):
            state = "" if account.active else "switched off"
            print(
                f"{account.email:32}{account.name:24}{account.role:10}{state or ('' if account.password else 'no password yet')}"
            )
    database.close()


@app.command()
def add(
    email: Email, data: Data = DATA_FOLDER, name: Annotated[str, typer.Option(help="As colleagues see it.")] = "",
    role: Annotated[str, typer.Option(help=f"One of: {', '.join(ROLES)}.")] = "owner",
) -> None:  # fmt: skip
    """Add somebody and print the link by which they choose a password."""
    database, signing_in = _open(data)
    with database.write() as conn:
        add_account(conn, EVERYBODY, email, name or email.partition("@")[0], role)
    _print_link(data, database, signing_in, email)
    database.close()


@app.command()
def link(email: Email, data: Data = DATA_FOLDER) -> None:
    """Print a link by which somebody chooses a new password."""
    database, signing_in = _open(data)
    _print_link(data, database, signing_in, email)
    database.close()


@app.command()
def off(email: Email, data: Data = DATA_FOLDER) -> None:
    """Let somebody in no more; their sessions and tokens end."""
    _switch(data, email, active=False)


@app.command()
def on(email: Email, data: Data = DATA_FOLDER) -> None:
    """Let somebody in again."""
    _switch(data, email, active=True)


def _switch(data: Path, email: str, *, active: bool) -> None:
    database, _ = _open(data)
    with database.write() as conn:
        account = switch(conn, EVERYBODY, account_of(conn, email), active=active)
    print(f"{account.name} {'may sign in' if active else 'may not sign in any more'}")
    database.close()


@app.command("codes-off")
def codes_off(email: Email, data: Data = DATA_FOLDER) -> None:
    """Switch off one-time codes for somebody who has lost the app and the recovery codes."""
    database, _ = _open(data)
    with database.write() as conn:
        drop_codes_of(conn, account_of(conn, email))
    print(f"{email} signs in by password alone; have them switch one-time codes on again")
    database.close()
