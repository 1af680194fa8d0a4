"""Verification of e-mail addresses and numbers by somebody else."""

from pydantic import Field

from openacorn.api.models.base import Asked, Told

MAX_TEXT = 50_000_000


class ColumnsAsked(Asked):
    """Which column says what, by its heading; "" where the table has none."""

    address: str = ""
    result: str = ""
    stage: str = ""
    line: str = ""
    at: str = ""


class TableAsked(Asked):
    """A verifier's table as CSV text."""

    text: str = Field(min_length=1, max_length=MAX_TEXT)


class VerdictsAsked(TableAsked):
    """A verifier's table; columns are guessed by their headings where they are not given."""

    columns: ColumnsAsked | None = None


class TableTold(Told):
    """What a table's columns are taken for, with its first rows by heading and how many there are."""

    heads: list[str]
    columns: dict[str, str]
    first: list[dict[str, str]]
    rows: int


class VerdictsTold(Told):
    """How many results were taken in, by result; how many numbers by line; the lines that held no address (the first hundred)."""

    taken: dict[str, int]
    lines: dict[str, int]
    strange: list[int]
