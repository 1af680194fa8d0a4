"""`acorn match`: merge a file of listings at the terminal."""

from pathlib import Path
from typing import Any

from rich.console import Console
from rich.table import Table

from openacorn.core.gather.file_columns import RowError, checked_columns, guess_columns, read_row
from openacorn.core.gather.listing import Listing
from openacorn.core.match.cluster import Clusters, match_all
from openacorn.gather.tables import headings_of
from openacorn.gather.tables.child import read_rows
from openacorn.gather.tables.limits import SAMPLE


def read_listings(path: Path, region: str | None = None) -> tuple[dict[int, Listing], list[str]]:
    """Return (row number from 0 → listing, one line for each row that could not be read)."""
    headings, sample = headings_of(read_rows(path), SAMPLE)
    guess = guess_columns(headings, [row.cells for row in sample if not row.error])
    fields = checked_columns(guess.fields, headings)
    found: dict[int, Listing] = {}
    refused = []
    for number, row in enumerate(read_rows(path)):
        try:
            if row.error:
                raise RowError(row.error)
            # without a source column nothing is known of who said what: rows of one source are not told apart
            found[number] = read_row(row.cells, fields, "", str(number), region or "")
        except RowError as error:
            refused.append(f"line {row.line}: {error}")
    return found, refused


def match_file(path: Path, region: str | None, at: float) -> tuple[list[dict[str, Any]], dict[int, Listing], list[str]]:
    """Return (clusters as `--json` prints them, listings by row, rows refused)."""
    listings, refused = read_listings(path, region)
    clusters: Clusters = match_all(listings, region, merge_at=at)
    result = [
        {"cluster": number, "rows": list(rows), "probability": round(weakest, 4)}
        for number, (rows, weakest) in enumerate(zip(clusters.groups, clusters.weakest, strict=True))
    ]
    return result, listings, refused


def print_clusters(result: list[dict[str, Any]], listings: dict[int, Listing]) -> None:
    """Print the clusters of two rows and more as a table."""
    doubles = [item for item in result if len(item["rows"]) > 1]
    console = Console()
    if doubles:
        table = Table("Cluster", "Row", "Name", "Street", "Phone", "Website", "Weakest link")
        for item in doubles:
            for place, row in enumerate(item["rows"]):
                answer = listings[row]
                first = (str(item["cluster"]), f"{item['probability']:.3f}") if place == 0 else ("", "")
                table.add_row(first[0], str(row), answer.name, answer.street, answer.phone, answer.website, first[1])
        console.print(table)
    console.print(
        f"{len(listings):,} listings are {len(result):,} businesses; {len(doubles):,} of them are listed more than once"
    )
