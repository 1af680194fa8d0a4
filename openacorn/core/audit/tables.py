"""Tables of data that ship with the audit, and the look-up of a host among domains."""

import csv
from collections.abc import Iterator, Mapping
from importlib import resources
from types import ModuleType
from typing import TypeVar

Value = TypeVar("Value")


def rows_of(package: ModuleType | str, name: str) -> Iterator[dict[str, str]]:
    """Yield each row of a table (tab-separated, no quotes, headings first) that lies in a package."""
    text = resources.files(package).joinpath(name).read_text(encoding="utf-8")
    return csv.DictReader(text.splitlines(), delimiter="\t", quoting=csv.QUOTE_NONE)


def by_ending(host: str, table: Mapping[str, Value]) -> Value | None:
    """Return what a table of domains says of a host, by the longest ending of two labels or more that it knows."""
    labels = host.split(".")
    return next((table[end] for n in range(len(labels) - 1) if (end := ".".join(labels[n:])) in table), None)
