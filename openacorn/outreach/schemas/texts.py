"""The gateway of text messages, and registers of numbers that must not be called."""

from pydantic import Base64Bytes, Field

from openacorn.api.schemas import RequestModel, ResponseModel, SomeDay
from openacorn.outreach.store.texts import Register


class GatewayRequest(RequestModel):
    """A gateway's recipe: see core.outreach.text_gateway. key "": as it is kept."""

    address: str = Field(min_length=1, max_length=2000)
    body: str = Field(default="", max_length=5000)
    key: str = Field(default="", max_length=500)
    key_name: str = Field(default="Authorization", max_length=80, pattern=r"^[A-Za-z0-9-]*$")
    key_prefix: str = Field(default="Bearer ", max_length=40)
    sender: str = Field(default="", max_length=40)
    number: str = Field(default="", max_length=200)
    error: str = Field(default="", max_length=200)
    inbox: str = Field(default="", max_length=2000)
    incoming: str = Field(default="", max_length=200)
    from_: str = Field(default="from", max_length=200)
    text: str = Field(default="text", max_length=200)
    id: str = Field(default="id", max_length=200)
    daily_limit: int = Field(default=50, ge=1, le=10_000)
    countries: list[str] = Field(default_factory=list, max_length=60)


class GatewayResponse(ResponseModel):
    """gateway: the recipe without its key, null before one is set up; webhook: where the gateway tells of incoming texts; public:
    can that be reached from outside of this machine? problem: why nothing goes."""

    gateway: GatewayRequest | None
    key_kept: bool
    webhook: str
    public: bool
    problem: str
    registers: list[Register]


class TestTextRequest(RequestModel):
    """A text to oneself."""

    to: str = Field(min_length=3, max_length=40)


class TestTextResponse(ResponseModel):
    """problem: "" if the gateway took it; number: the gateway's own."""

    problem: str
    number: str


class RegisterRequest(RequestModel):
    """A register of numbers that must not be called, as a file of any kind. dated: its day (ISO 8601)."""

    title: str = Field(min_length=1, max_length=80)
    dated: SomeDay
    name: str = Field(min_length=1, max_length=200)
    content: Base64Bytes = Field(max_length=40_000_000)


class RegisterRead(ResponseModel):
    """numbers: kept; unreadable: cells that are no phone number."""

    numbers: int
    unreadable: int
