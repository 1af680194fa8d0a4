"""Files are read in a process of its own with limits: whatever a file does to its reader, the application goes on.

`read_rows` and `read_listings` run here; `python -m openacorn.gather.tables.child` is the process. It reads one line of JSON from
standard input (path, name, encoding, read_as) and says each piece as a line of JSON: {"rows": [[line, error, cells] …]}, or, if the
rows are to be read as listings, [[id, listing] …] and {"refused": [[line, reason] …]}; then {"note": "…"}, {"fault": "…"},
{"columns": "…"} (a fault of the columns) and {"done": true}.
"""

import json
import os
import resource
import select
import subprocess
import sys
from collections.abc import Iterator
from dataclasses import asdict
from itertools import islice
from pathlib import Path
from typing import IO, Any

import orjson

from openacorn.collecting import collect_seldom
from openacorn.core.gather.file_columns import ColumnsError
from openacorn.gather.tables import limits, rows_here
from openacorn.gather.tables.as_listings import ReadAs, Refused, listings_of
from openacorn.gather.tables.row import FileError, Row

PIECE = 500
"""Rows a line."""

PATIENCE_S = 60.0
"""A reader that says nothing for this long is ended."""

FAULT, COLUMNS, DONE = b'{"fault":', b'{"columns":', b'{"done":true}'
ENDED_BY = "it takes more {} to read than a table of listings does; save it as CSV, or split it"


def read_rows(path: Path, name: str = "", encoding: str = "", notes: list[str] | None = None) -> Iterator[Row]:
    """Yield the rows of a file of any kind.

    encoding: of a text file, "" to find it out; notes: takes what is left out, in words. Raises FileError, OSError when the whole
    file cannot be read. The reader ends when nobody asks for the next row any more.
    """
    for line in _said(path, name or path.name, encoding, None):
        message: dict[str, Any] = orjson.loads(line)
        if "note" in message and notes is not None:
            notes.append(message["note"])
        yield from (Row(number, cells, error) for number, error, cells in message.get("rows", ()))


def read_listings(path: Path, name: str, encoding: str, wanted: ReadAs) -> Iterator[bytes | Refused]:
    """Yield the listings of a file, [id in the file, listing as JSON] each, many in a line of JSON; and the rows refused.

    Raises FileError, ColumnsError, OSError as `read_rows` does, also when the file is broken at its end.
    """
    for line in _said(path, name, encoding, wanted):
        if line.startswith(b"["):
            yield line
        else:
            yield orjson.loads(line).get("refused", [])


def _said(path: Path, name: str, encoding: str, wanted: ReadAs | None) -> Iterator[bytes]:
    """Start a reader; yield the lines that it says. Raises what it found wrong."""
    path.stat()  # who cannot find it says so as for every file
    command = [sys.executable, "-m", "openacorn.gather.tables.child"]
    reader = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE)
    assert reader.stdin is not None
    assert reader.stdout is not None
    with reader.stdin:
        asked = [str(path.absolute()), name, encoding, asdict(wanted) if wanted is not None else None]
        reader.stdin.write(json.dumps(asked).encode())
    try:
        for line in _lines(reader.stdout, name):
            if line.startswith(FAULT):
                raise FileError(orjson.loads(line)["fault"])
            if line.startswith(COLUMNS):
                raise ColumnsError(orjson.loads(line)["columns"])
            if line == DONE:
                return
            yield line
        why = "memory" if reader.wait() == limits.OUT_OF_MEMORY else "time"
        raise FileError(f"{name}: {ENDED_BY.format(why)}")
    finally:
        reader.kill()
        reader.stdout.close()
        reader.wait()


def _lines(out: IO[bytes], name: str) -> Iterator[bytes]:
    """Whole lines of a pipe. Raises FileError if nothing comes for too long."""
    rest = bytearray()
    while select.select([out], [], [], PATIENCE_S)[0]:
        piece = os.read(out.fileno(), 1 << 18)
        if not piece:
            return
        rest += piece
        *whole, last = rest.split(b"\n")
        yield from map(bytes, whole)
        rest = bytearray(last)
    raise FileError(f"{name}: {ENDED_BY.format('time')}")


def _limit(path: Path) -> None:
    """So much memory and processor time, no file written."""
    seconds = limits.SECONDS + int(path.stat().st_size / limits.BYTES_A_SECOND)
    resource.setrlimit(resource.RLIMIT_AS, (limits.MEMORY, limits.MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds))
    resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))


def _pieces(rows: Iterator[Row], wanted: ReadAs | None) -> Iterator[object]:
    """The messages about the rows."""
    if wanted is None:
        while piece := list(islice(rows, PIECE)):
            yield {"rows": [(row.line, row.error, row.cells) for row in piece]}
        return
    for good, refused in listings_of(rows, wanted, PIECE):
        if good:
            yield good
        if refused:
            yield {"refused": refused}


def main() -> None:
    """Read the file that standard input names, and say what is in it."""
    where, name, encoding, read_as = json.load(sys.stdin)  # a path may hold what UTF-8 does not
    path = Path(where)
    collect_seldom()
    out = sys.stdout.buffer
    notes: list[str] = []

    def tell(message: object) -> None:
        while notes:
            out.write(orjson.dumps({"note": notes.pop(0)}) + b"\n")
        out.write(orjson.dumps(message) + b"\n")
        out.flush()

    try:
        _limit(path)
        rows = rows_here(path, name, encoding, notes)
        for piece in _pieces(rows, ReadAs(**read_as) if read_as is not None else None):
            tell(piece)
        tell({"done": True})
    except ColumnsError as error:
        tell({"columns": str(error)})
    except FileError as error:
        tell({"fault": str(error)})
    except OSError as error:
        if isinstance(error, BrokenPipeError):
            os._exit(0)  # nobody asks any more
        tell({"fault": f"{name} cannot be read: {error.strerror or error}"})
    except MemoryError:
        os._exit(limits.OUT_OF_MEMORY)  # nothing that needs memory can be trusted to end well


if __name__ == "__main__":
    main()
