"""Things done at the desk."""

from typing import Annotated

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel


class ActionRequest(RequestModel):
    """What to do to businesses (named, or all that pass a filter). word: the reason, the tag, the shortlist or the relationship."""

    kind: str
    ids: list[Annotated[int, Field(ge=1, le=2**53)]] = Field(default_factory=list, max_length=1_000_000)
    filter: dict[str, str] | None = None
    word: str = Field(default="", max_length=200)


class ActionResponse(ResponseModel):
    """Something that was done, and can be undone unless it was."""

    id: int
    at: str
    by: str
    text: str
    undone: bool
