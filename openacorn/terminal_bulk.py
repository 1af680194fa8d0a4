"""`./acorn everything`: all businesses in one file for other programs, and taken in again."""

from collections.abc import Iterator
from contextlib import closing
from pathlib import Path
from typing import Annotated

import typer

from openacorn.bulk.errors import BulkError
from openacorn.db.database import Database
from openacorn.db.folder import DATABASE, drafted, open_private
from openacorn.serving import DATA_FOLDER
from openacorn.settings_file import load_settings

app = typer.Typer(no_args_is_help=True, help="All businesses in one file: for other programs, and taken in again.")
Data = Annotated[Path, typer.Option(metavar="DIR", envvar="ACORN_DATA", help="Where the data is kept.")]
SQLITE = (".sqlite", ".sqlite3", ".db")


def _write(path: Path, chunks: Iterator[bytes]) -> None:
    with drafted(path) as draft, open_private(draft) as file:
        for chunk in chunks:
            file.write(chunk)


@app.command("export")
def export_all(
    file: Annotated[Path, typer.Argument(metavar="FILE", help="Ending in .ndjson, or in .sqlite for a SQLite file.")],
    data: Data = DATA_FOLDER,
) -> None:
    """Write every business with findings, people, lists and history to one file."""
    from openacorn.bulk.store.sqlite_file import write_sqlite
    from openacorn.bulk.writing import header_of, records_of, write_lines

    if not (data / DATABASE).exists():
        raise BulkError(f"there is no data in {data}; name the folder with --data DIR")
    try:
        with closing(Database(data / DATABASE)) as database:
            settings = load_settings(data)
            header = header_of(database, settings)
            if file.suffix.lower() in SQLITE:
                write_sqlite(file, header, records_of(database))
            else:
                _write(file, write_lines(database, settings))
    except OSError as error:
        raise BulkError(f"{file} cannot be written: {error.strerror}") from None
    print(f"{file}: {header['businesses']:,} businesses; it holds people's names, addresses and numbers")


@app.command("import")
def import_all(
    file: Annotated[Path, typer.Argument(metavar="FILE", help="An .ndjson file that ./acorn everything export wrote.")],
    data: Data = DATA_FOLDER,
) -> None:
    """Take such a file in; what is held already is added to, and done twice it changes nothing."""
    from openacorn.bulk.taking_in import lines_of, take_in
    from openacorn.privacy.erasing import erase_returned

    try:
        with closing(Database(data / DATABASE)) as database, file.open("rb") as source:
            done = take_in(database, load_settings(data), lines_of(source))
            erase_returned(data, database)
    except OSError as error:
        raise BulkError(f"{file} cannot be read: {error.strerror}") from None
    for line in done.refused:
        print(line)
    print(
        f"{file}: {done.businesses:,} businesses taken in, {done.new:,} of them new; {done.all_refused:,} lines refused"
    )
