"""Verification of e-mail addresses, here or by somebody else."""

from pydantic import Field

from openacorn.api.models.base import Asked, Told


class VerdictsAsked(Asked):
    """A verifier's table as CSV text: a column of addresses, a column of results."""

    text: str = Field(min_length=1, max_length=50_000_000)


class VerdictsTold(Told):
    """How many results were taken in, by result, and the lines that held no address (the first hundred)."""

    taken: dict[str, int]
    strange: list[int]
