"""Files, pasted texts and address lists."""

from pydantic import Field

from openacorn.api.models.base import Asked, Told


class PastedAsked(Asked):
    """A pasted text: a page of results or any list ("list"), or addresses with {1..250} for a range ("addresses")."""

    kind: str = Field(pattern="^(list|addresses)$")
    text: str = Field(min_length=1, max_length=5_000_000)
    append_to: int | None = Field(default=None, ge=0, le=2**62)


class ImportTold(Told):
    """What is about to be brought in: columns guessed or remembered, and the first rows."""

    id: int
    title: str
    headings: list[str]
    columns: dict[str, str]
    remembered: bool
    fields: list[str]
    rows: list[dict[str, str]]
    broken: list[str]


class ImportAsked(Asked):
    """Agreed columns: field → heading. trade: what rows are of whose category does not say it."""

    title: str = Field(min_length=1, max_length=120, pattern=r"\S")
    columns: dict[str, str] = Field(max_length=40)
    trade: str = Field(default="", max_length=100)


class RefusedTold(Told):
    """A row that was refused."""

    line: int
    reason: str


class ImportLine(Told):
    """A finished import."""

    id: int
    title: str
    taken: int
    refused: int
    at: str
    refused_rows: list[RefusedTold]
