"""Recipes of directories as the interface shows them, and pages that they are tried on."""

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel
from openacorn.gather.schemas.apis import ApiResponse


class RecipeChoices(ResponseModel):
    """What a recipe may say: fields that a directory and an API give, how a text is cleaned, how an API's pages follow."""

    fields: list[str]
    cleaners: list[str]
    api_fields: list[str]
    pagings: list[str]


class RecipeFileRequest(RequestModel):
    """The text of a recipe's file."""

    text: str = Field(min_length=2, max_length=200_000)


class RecipeTaken(ResponseModel):
    """The source that a recipe's file has become."""

    source: str
    title: str


class RuleOfPlan(RequestModel):
    """How one field is read off an item."""

    field: str
    selector: str = ""
    take: str = "text"
    clean: str = ""
    mark: str = ""


class RecipeRequest(RequestModel):
    """A recipe. secret: goes sealed into the store, null: the kept one stays, "": it is forgotten."""

    title: str = Field(min_length=1, max_length=80, pattern=r"\S")
    address: str = Field(max_length=2000)
    item: str = Field(max_length=500)
    fields: list[RuleOfPlan] = Field(max_length=40)
    next: str = Field(default="", max_length=500)
    limit: int = Field(default=50, ge=1, le=200)
    pace_s: float = Field(default=1.0, ge=0.02, le=60)
    header: str = Field(default="", max_length=80)
    form: dict[str, str] = Field(default_factory=dict, max_length=30)
    more: str = Field(default="", max_length=2000)
    log_in: str = Field(default="", max_length=2000)
    log_in_form: dict[str, str] = Field(default_factory=dict, max_length=30)
    user: str = Field(default="", max_length=200)
    own_page: str = Field(default="", max_length=500)
    details: list[RuleOfPlan] = Field(default_factory=list, max_length=40)
    structured: bool = False
    drawn: bool = False
    results: bool = False
    usual: list[str] = Field(default_factory=list, max_length=40)
    secret: str | None = Field(default=None, max_length=1000)


class RecipeResponse(ResponseModel):
    """A kept recipe, or one found in a page (id 0)."""

    id: int
    title: str
    address: str
    item: str
    fields: list[RuleOfPlan]
    next: str
    limit: int
    pace_s: float
    header: str
    form: dict[str, str]
    more: str
    log_in: str
    log_in_form: dict[str, str]
    user: str
    own_page: str
    details: list[RuleOfPlan]
    structured: bool
    drawn: bool
    results: bool
    usual: list[str]
    secret_kept: bool


class Clicked(RequestModel):
    """What was clicked on a page. kind: an item of the list (one element or two), a field of it, or the next page's control;
    elements: their numbers on the page; field: which one, "" for what it looks like, "own_page" for the link to it."""

    kind: str = Field(pattern="^(item|field|next)$")
    elements: list[int] = Field(min_length=1, max_length=2)
    field: str = Field(default="", max_length=40)


class PageRequest(RequestModel):
    """A page of results, and the words that were searched for on it. page: as it was fetched before, to be read again;
    clicked: what the recipe is to be changed by."""

    address: str = Field(min_length=1, max_length=2000)
    term: str = Field(default="", max_length=200)
    place: str = Field(default="", max_length=200)
    title: str = Field(default="", max_length=80)
    plan: RecipeRequest | None = None
    plan_id: int = Field(default=0, ge=0, le=2**31)
    page: str = Field(default="", max_length=80)
    clicked: Clicked | None = None
    own: bool = False


class OtherList(ResponseModel):
    """Another list of the page, as a recipe. sure: 0…1; names: of its first rows."""

    plan: RecipeResponse
    sure: float
    total: int
    names: list[str]


class TakenResponse(ResponseModel):
    """Numbers of the elements that a recipe takes on a page: its items, what each field reads, the control for the next page."""

    items: list[int]
    fields: dict[str, list[int]]
    next: list[int]


class PageResponse(ResponseModel):
    """A plan and the rows it reads off a page. sure: 0…1, how likely it is the page's list, None where the plan was given;
    others: further lists of the page, the likeliest first; page: its name among those fetched; why: no list was found;
    own_page: address of the first business's own page."""

    plan: RecipeResponse
    sure: float | None = None
    others: list[OtherList] = Field(default_factory=list)
    rows: list[dict[str, str]]
    next: str
    total: int
    page: str
    taken: TakenResponse
    why: str = ""
    own_page: str = ""


class StarterResponse(ResponseModel):
    """A recipe to begin with, of a directory or of an API. about: what it reads, and what is to be filled in."""

    about: str
    directory: RecipeResponse | None
    api: ApiResponse | None
