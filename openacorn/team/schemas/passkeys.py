"""Passkeys."""

from typing import Any

from pydantic import Field

from openacorn.api.schemas import RequestModel, ResponseModel


class PasskeyOptions(ResponseModel):
    """number: to be sent with the answer; options: for the browser's navigator.credentials, as JSON (WebAuthn level 3, 5.1.8)."""

    number: str
    options: dict[str, Any]


class PasskeyAnswer(RequestModel):
    """What the browser got from a device, as its toJSON writes it."""

    number: str = Field(max_length=60)
    answer: dict[str, Any] = Field(max_length=20)


class NewPasskey(PasskeyAnswer):
    """A passkey that a device made. name: by what its owner will know it."""

    name: str = Field(min_length=1, max_length=60)


class PasskeyResponse(ResponseModel):
    """One of your passkeys."""

    id: int
    name: str
    made_at: str
    used_at: str
