"""Files made from a shortlist for other tools and for paper."""

from openacorn.api.schemas import ResponseModel
from openacorn.outreach.audiences import AudienceCount


class AudienceResponse(ResponseModel):
    """counts: rows by kind; refused: businesses of the list that are left out since they refused."""

    counts: list[AudienceCount]
    refused: int


class LabelChoice(ResponseModel):
    """A sheet of labels."""

    id: str
    title: str


class WorkListsResponse(ResponseModel):
    """What can be made from a shortlist. sheets: of labels; addressed: members with a postal address; placed: with a place on the
    map; from_home: does a round begin at home? else at its first stop."""

    sheets: list[LabelChoice]
    addressed: int
    placed: int
    members: int
    from_home: bool
