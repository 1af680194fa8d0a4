"""Angles: facts that make a case together, the service they sell and how to begin."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache

from openacorn.core.desk import angles as shipped
from openacorn.plugins import scan


@dataclass(frozen=True, slots=True)
class Angle:
    """filter: address parameters, as the table's page has them. line: the first sentence of a call, true of everybody in it;
    {name}, {town} and {trade} stand for the business's own."""

    id: str
    name: str
    service: str
    line: str
    filter: Mapping[str, str]
    sort: str = "-value"


@cache
def shipped_angles() -> tuple[Angle, ...]:
    """Every angle that ships, by id."""
    return scan(shipped, "ANGLE", Angle)
