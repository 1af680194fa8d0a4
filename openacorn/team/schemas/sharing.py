"""Who sees what."""

from pydantic import Field

from openacorn.api.schemas import Id, RequestModel, ResponseModel


class SharingRequest(RequestModel):
    """private: its maker, owners and managers see it, and these people; else everybody does."""

    private: bool
    people: list[Id] = Field(default_factory=list, max_length=500)


class ColleagueResponse(ResponseModel):
    """Somebody who can sign in."""

    id: int
    name: str


class SharingResponse(ResponseModel):
    """Who sees it. mine: may you change that?"""

    private: bool
    people: list[int]
    made_by: str
    mine: bool
    colleagues: list[ColleagueResponse]
