"""Files, pasted texts and address lists."""

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel


class PastedRequest(RequestModel):
    """A pasted text: a page of results or any list ("list"), or addresses with {1..250} for a range ("addresses")."""

    kind: str = Field(pattern="^(list|addresses)$")
    text: str = Field(min_length=1, max_length=5_000_000)
    append_to: int | None = Field(default=None, ge=0, le=2**62)


class AddressRequest(RequestModel):
    """Where a published list is."""

    address: str = Field(min_length=1, max_length=2000, pattern=r"\S")


class EncodingChoice(ResponseModel):
    """A text encoding that can be chosen."""

    id: str
    label: str


class EncodingRequest(RequestModel):
    """Another encoding for an upload."""

    encoding: str = Field(max_length=40)


class ImportResponse(ResponseModel):
    """What is about to be imported: columns guessed or remembered, and the first rows.

    encoding: of a text file, guessed unless it says so itself, "" for a workbook; encodings: what can be chosen instead.
    notes: what is left out. national_phones: some numbers written without a country's code, while the agency's is not set.
    """

    id: int
    title: str
    headings: list[str]
    columns: dict[str, str]
    remembered: bool
    fields: list[str]
    rows: list[dict[str, str]]
    broken: list[str]
    encoding: str
    encodings: list[EncodingChoice]
    notes: list[str]
    national_phones: list[str]


class ImportRequest(RequestModel):
    """Agreed columns: field → heading. trade: what rows are of whose category does not say it.

    keep_phones: import national phone numbers as they are written although no country is set.
    """

    title: str = Field(min_length=1, max_length=120, pattern=r"\S")
    columns: dict[str, str] = Field(max_length=40)
    trade: str = Field(default="", max_length=100)
    keep_phones: bool = False


class RefusedResponse(ResponseModel):
    """A row that was refused."""

    line: int
    reason: str


class ImportLine(ResponseModel):
    """An import that was started."""

    id: int
    title: str
    taken: int
    refused: int
    at: str
    refused_rows: list[RefusedResponse]
