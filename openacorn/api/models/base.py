"""Bases of all models."""

from pydantic import BaseModel, ConfigDict


class Asked(BaseModel):
    """A request body: a field that nobody knows is an error, not silence."""

    model_config = ConfigDict(extra="forbid")


class Told(BaseModel):
    """An answer; built from dataclasses as well as from dicts."""

    model_config = ConfigDict(from_attributes=True)


class Problem(Told):
    """What is wrong, where, and what to do."""

    what: str
    where: str
    remedy: str


class ErrorAnswer(Told):
    """The shape of every error."""

    error: Problem
