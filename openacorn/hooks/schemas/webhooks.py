"""Webhooks."""

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel
from openacorn.hooks.store.webhooks import DeliveryState, Webhook


class EventType(ResponseModel):
    """A kind of event that a webhook can receive."""

    id: str
    title: str


class WebhooksResponse(ResponseModel):
    """deliveries: the newest first; secret: of the webhook that was just made, or whose secret was, "" else."""

    webhooks: list[Webhook]
    events: list[EventType]
    deliveries: list[DeliveryState]
    secret: str = ""


class WebhookRequest(RequestModel):
    """A webhook to be stored, id 0 for a new one."""

    id: int = Field(default=0, ge=0)
    name: str = Field(min_length=1, max_length=60)
    url: str = Field(max_length=2000, pattern=r"^https?://[^\s/]+[^\s]*$")
    events: list[str] = Field(min_length=1, max_length=40)
    paused: bool = False
