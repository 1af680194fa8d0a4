"""Links to a view of the table, for who has no account."""

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel
from openacorn.business.columns import Cell
from openacorn.desk.schemas.businesses import BusinessColumnResponse

LONGEST_DAYS = 90


class ViewLinkRequest(RequestModel):
    """filter, sort: as in the screens' address; columns: ids, the usual ones if none; days: how long it is good."""

    name: str = Field(min_length=1, max_length=80, pattern=r"\S")
    filter: dict[str, str] = Field(default_factory=dict, max_length=100)
    columns: list[str] = Field(default_factory=list, max_length=40)
    sort: str = Field(default="-value", max_length=100)
    days: int = Field(default=14, ge=1, le=LONGEST_DAYS)


class ViewLinkResponse(ResponseModel):
    """A link that was made; its address is shown once, when it is made."""

    id: int
    name: str
    by: str
    made_at: str
    expires_at: str
    opened: int
    opened_at: str


class ViewLinksResponse(ResponseModel):
    """Links that are good still. address: of the one just made, in that answer alone."""

    links: list[ViewLinkResponse]
    address: str = ""


class SharedViewRequest(RequestModel):
    """key: what stands behind # in the link's address."""

    key: str = Field(min_length=1, max_length=100)
    offset: int = Field(default=0, ge=0, le=2**31 - 1)


class SharedView(ResponseModel):
    """A page of the view. No names of people, e-mail addresses or phone numbers are in it."""

    name: str
    agency: str
    by: str
    expires_at: str
    sentence: str
    columns: list[BusinessColumnResponse]
    rows: list[list[Cell]]
    total: int
    offset: int
