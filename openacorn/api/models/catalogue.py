"""What the product knows of itself: status, places, trades, checks, services, sources."""

from openacorn.api.models.base import Told


class Status(Told):
    """The installation. `home`: the agency's own latitude and longitude."""

    agency: str
    currency: str
    home: tuple[float, float] | None
    has_ground_map: bool
    source_ready: bool
    demo: bool
    running: list[int]


class PlaceFound(Told):
    """A place of the gazetteer."""

    name: str
    within: str
    kind: str
    lat: float
    lon: float
    residents: int
    radius_km: float


class TradeInfo(Told):
    """A trade and the words that find it."""

    id: str
    label: str
    plural: str
    words: list[str]
    terms: list[str]
    parent: str


class SourceInfo(Told):
    """Where listings can come from. cap: most rows one question gives, None where nothing is cut; cost: of one request."""

    id: str
    title: str
    hint: str
    ready: bool
    by: str
    cap: int | None
    pace_s: float
    cost: float


class CheckInfo(Told):
    """A check as screens show it."""

    id: str
    group: str
    title: str
    why: str


class RuleInfo(Told):
    """A service's rule."""

    check: str
    title: str
    weight: float
    decisive: bool
    gap_severity: float


class ServiceInfo(Told):
    """A service with its money and rules."""

    id: str
    title: str
    sentence: str
    fee: float
    monthly: float
    months: float
    delivery: float
    margin: float
    gates: list[str]
    rules: list[RuleInfo]
