"""Bases of all models."""

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

Id = Annotated[int, Field(ge=0, le=2**62)]
"""An id that every part of the way can hold."""


class Asked(BaseModel):
    """A request body: a field that nobody knows is an error, not silence."""

    model_config = ConfigDict(extra="forbid")


class Told(BaseModel):
    """An answer; built from dataclasses as well as from dicts."""

    model_config = ConfigDict(from_attributes=True)
