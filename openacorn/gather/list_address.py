"""Lists at an address: fetched into a file, and read as every file is."""

import email.message
from pathlib import Path, PurePosixPath
from urllib.parse import unquote, urlsplit

from openacorn.db.folder import open_private
from openacorn.gather.tables import FileError
from openacorn.net.client import Answer, Client
from openacorn.net.errors import FetchError

MOST_BYTES = 200 * 1024**2
SECONDS = 300.0
KINDS = {
    "text/csv": "csv", "text/tab-separated-values": "tsv", "application/json": "json", "application/geo+json": "geojson",
    "application/x-ndjson": "ndjson", "application/vnd.ms-excel": "xls", "application/vnd.oasis.opendocument.spreadsheet": "ods",
    "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet": "xlsx",
}  # fmt: skip
"""Media type → ending of a file's name (IANA's register of media types)."""

PAGE = (b"<!doctype html", b"<html")


def name_of(answer: Answer) -> str:
    """The file's name: as the server calls it, else the end of its address, with an ending that tells its kind."""
    told = email.message.Message()
    told["Content-Disposition"] = answer.headers.get("content-disposition", "")
    path = PurePosixPath(unquote(urlsplit(answer.url).path))
    name = PurePosixPath(told.get_filename() or path.name or urlsplit(answer.url).netloc).name
    kind = KINDS.get(answer.headers.get("content-type", "").partition(";")[0].strip().lower(), "")
    return name if not kind or name.lower().endswith(f".{kind}") else f"{name}.{kind}"


async def fetch_list(client: Client, address: str, path: Path) -> str:
    """Fetch the list at an address into a file; return its name. Raises FileError."""
    if not address.startswith(("http://", "https://")):
        raise FileError("give the whole address of the list, beginning with http:// or https://")
    try:
        answer = await client.follow(address, max_body=MOST_BYTES, seconds=SECONDS)
    except FetchError as error:
        raise FileError(f"{address} cannot be reached: {error.detail}") from error
    if answer.status != 200:
        raise FileError(f"{address} answered with HTTP {answer.status}")
    if answer.truncated:
        raise FileError(f"the list at {address} is larger than {MOST_BYTES // 2**20} MB")
    if answer.body.lstrip()[:20].lower().startswith(PAGE):
        raise FileError(f"at {address} is a web page, no list: give the address of the CSV, JSON or spreadsheet itself")
    with open_private(path) as file:
        file.write(answer.body)
    return name_of(answer)
