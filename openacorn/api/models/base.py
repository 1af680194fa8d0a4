"""Bases of all models."""

from pydantic import BaseModel, ConfigDict


class Asked(BaseModel):
    """A request body: a field that nobody knows is an error, not silence."""

    model_config = ConfigDict(extra="forbid")


class Told(BaseModel):
    """An answer; built from dataclasses as well as from dicts."""

    model_config = ConfigDict(from_attributes=True)
