"""What the product knows of itself: status, places, trades, checks, services, sources."""

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel


class Status(ResponseModel):
    """The installation. home: the agency's own latitude and longitude; country: ISO 3166, "" if it is not set; locale:
    BCP 47; currency: ISO 4217; units: of distance, "km" or "mi"; own_data: beside the demo's; fresh: nobody has
    set anything up yet, and nothing is there."""

    agency: str
    country: str
    currency: str
    locale: str
    home: tuple[float, float] | None
    has_ground_map: bool
    has_tiles: bool
    map_attribution: str
    source_ready: bool
    demo: bool
    own_data: bool
    units: str
    fresh: bool
    running: list[int]


class TradeInfo(ResponseModel):
    """A trade and the words that find it."""

    id: str
    label: str
    plural: str
    words: list[str]
    terms: list[str]
    parent: str
    codes: list[str]
    own: bool


class TradeRequest(RequestModel):
    """A trade to add. parent: the wider trade's id, "" for none."""

    label: str = Field(min_length=1, max_length=60, pattern=r"\S")
    plural: str = Field(default="", max_length=60)
    words: list[str] = Field(default_factory=list, max_length=50)
    parent: str = Field(default="", max_length=120)


class SourceInfo(ResponseModel):
    """Where listings can come from. cap: most rows one question gives, None where nothing is cut; cost: of one request,
    row_cost: of one row found; joins: its rows are facts for what other sources list, no businesses by themselves."""

    id: str
    title: str
    hint: str
    ready: bool
    by: str
    cap: int | None
    pace_s: float
    cost: float
    row_cost: float
    joins: bool


class CheckInfo(ResponseModel):
    """A check as screens show it."""

    id: str
    group: str
    title: str
    why: str
