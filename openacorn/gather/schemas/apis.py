"""Recipes of JSON APIs."""

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel
from openacorn.core.gather.api_recipe import MOST_PAGES


class ApiFieldModel(RequestModel):
    """A field of a listing and its path in a place (JMESPath)."""

    field: str = Field(max_length=40)
    path: str = Field(max_length=500)


class ApiRequest(RequestModel):
    """An API's recipe (see core.gather.api_recipe). secret: the key; goes sealed into the store; null: the kept one stays."""

    title: str = Field(min_length=1, max_length=80, pattern=r"\S")
    address: str = Field(max_length=2000)
    items: str = Field(default="", max_length=500)
    fields: list[ApiFieldModel] = Field(default_factory=list, max_length=40)
    body: str = Field(default="", max_length=20_000)
    paging: str = Field(default="none", max_length=20)
    cursor: str = Field(default="", max_length=500)
    cursor_name: str = Field(default="", max_length=100)
    total: str = Field(default="", max_length=500)
    more: str = Field(default="", max_length=500)
    error: str = Field(default="", max_length=500)
    first_page: int = Field(default=1, ge=0, le=1)
    page_size: int = Field(default=20, ge=1, le=10_000)
    cap: int = Field(default=0, ge=0, le=1_000_000)
    limit: int = Field(default=200, ge=1, le=MOST_PAGES)
    key_name: str = Field(default="", max_length=100)
    key_in: str = Field(default="header", pattern="^(header|query)$")
    key_prefix: str = Field(default="", max_length=40)
    pace_s: float = Field(default=1.0, ge=0.0, le=3600)
    cost_per_request: float = Field(default=0.0, ge=0)
    cost_per_row: float = Field(default=0.0, ge=0)
    ranked: bool = False
    secret: str | None = Field(default=None, max_length=2000)


class ApiResponse(ResponseModel):
    """A kept recipe, or one that was found (id 0). by: what one question is about, a "business", "tiles", "places" or "once"."""

    id: int
    by: str
    title: str
    address: str
    items: str
    fields: list[ApiFieldModel]
    body: str
    paging: str
    cursor: str
    cursor_name: str
    total: str
    more: str
    error: str
    first_page: int
    page_size: int
    cap: int
    limit: int
    key_name: str
    key_in: str
    key_prefix: str
    pace_s: float
    cost_per_request: float
    cost_per_row: float
    ranked: bool
    secret_kept: bool


class LookedUp(RequestModel):
    """The one business that a look-up asks about, as far as the address says it."""

    name: str = Field(default="", max_length=200)
    town: str = Field(default="", max_length=200)
    postcode: str = Field(default="", max_length=20)
    domain: str = Field(default="", max_length=200)
    phone: str = Field(default="", max_length=40)


class ApiSampleRequest(RequestModel):
    """An address as it is asked for some words at a place, or an answer that came of it.

    business: asked about by a look-up. body: JSON that is sent, "" for a GET. answer: pasted instead of asking. recipe: to read by;
    without its items they are found.
    """

    address: str = Field(min_length=1, max_length=4000)
    term: str = Field(default="", max_length=200)
    place: str = Field(default="", max_length=200)
    body: str = Field(default="", max_length=20_000)
    answer: str = Field(default="", max_length=2_000_000)
    business: LookedUp = LookedUp()
    recipe: ApiRequest | None = None
    recipe_id: int = Field(default=0, ge=0, le=2**31)


class ApiSampleResponse(ResponseModel):
    """A recipe and the rows it reads. second: what asking for the second page brought, in words."""

    recipe: ApiResponse
    rows: list[dict[str, str]]
    total: int | None
    second: str
    second_works: bool
