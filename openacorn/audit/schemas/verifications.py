"""Verification of e-mail addresses and numbers by somebody else."""

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel

MAX_TEXT = 50_000_000


class ColumnsRequest(RequestModel):
    """Which column says what, by its heading; "" where the table has none."""

    address: str = ""
    result: str = ""
    stage: str = ""
    line: str = ""
    at: str = ""


class TableRequest(RequestModel):
    """A verifier's table as CSV text."""

    text: str = Field(min_length=1, max_length=MAX_TEXT)


class VerdictsRequest(TableRequest):
    """A verifier's table; columns are guessed by their headings where they are not given."""

    columns: ColumnsRequest | None = None


class TableResponse(ResponseModel):
    """What a table's columns are taken for, with its first rows by heading and how many there are."""

    heads: list[str]
    columns: dict[str, str]
    first: list[dict[str, str]]
    rows: int


class VerdictsResponse(ResponseModel):
    """How many results were taken in, by result; how many numbers by line; the lines that held no address (the first hundred)."""

    taken: dict[str, int]
    lines: dict[str, int]
    strange: list[int]
