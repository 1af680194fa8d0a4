"""Bases of all models."""

import json
from datetime import date
from typing import Annotated, Any

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, model_validator

from openacorn.acting import acting

Id = Annotated[int, Field(ge=0, le=2**62)]
"""An id that every part of the way can hold."""


def _day(text: str) -> str:
    if text and date.fromisoformat(text).isoformat() != text:
        raise ValueError("write a day like 2026-12-01")
    return text


Day = Annotated[str, Field(max_length=10), AfterValidator(_day)]
"""A day that there is (ISO 8601: 2026-12-01), "" for none."""

SomeDay = Annotated[Day, Field(min_length=10)]

FILE_BODY = {
    "requestBody": {
        "required": True,
        "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
    }
}
"""What the API's document says of a request whose body is a file's bytes."""


class RequestModel(BaseModel):
    """A request body: a field that nobody knows is an error, not silence."""

    model_config = ConfigDict(extra="forbid")

    @model_validator(mode="before")
    @classmethod
    def _encodable(cls, raw: Any) -> Any:
        """Refuse text that JSON can write but nothing can store: half of a surrogate pair, also in a key."""
        try:
            json.dumps(raw, ensure_ascii=False, default=str).encode()
        except UnicodeEncodeError:
            raise ValueError("the text holds half of a character (a lone surrogate); take it out") from None
        return raw

    @model_validator(mode="before")
    @classmethod
    def _signed(cls, raw: Any) -> Any:
        """The person signed in is the author of what they send, whatever name it says."""
        name = acting()
        return {**raw, "by": name} if name and "by" in cls.model_fields and isinstance(raw, dict) else raw


class ResponseModel(BaseModel):
    """An answer; built from dataclasses as well as from dicts."""

    model_config = ConfigDict(from_attributes=True)
