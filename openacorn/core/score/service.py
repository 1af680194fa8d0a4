"""What the agency sells, and by which findings a business needs it."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cache

from openacorn.core.audit.finding import Outcome
from openacorn.core.score import services
from openacorn.core.score.winning import PRIOR, Odds
from openacorn.errors import InvalidInput
from openacorn.plugins import scan


class ServiceError(InvalidInput):
    """A service that makes no sense; the message says what is wrong."""

    where = "service"
    remedy = "change that part of the service; nothing you entered is lost"


@dataclass(frozen=True, slots=True)
class Rule:
    """A check that speaks for the service. `decisive`: its gap alone lifts need to its own severity.

    severity: outcome → 0…1 where the usual (gap 1, partial .5, ok 0) does not fit.
    """

    check: str
    weight: float
    decisive: bool = False
    severity: Mapping[Outcome, float] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Gate:
    """A check that must have one of `passes` before the service makes sense at all."""

    check: str
    passes: frozenset[Outcome]
    otherwise: str


@dataclass(frozen=True, slots=True)
class Service:
    """Fees in the agency's currency. margin = fee + monthly × months kept − cost of delivery."""

    id: str
    title: str
    sentence: str
    fee: float
    monthly: float
    months: float
    delivery: float
    rules: tuple[Rule, ...]
    gates: tuple[Gate, ...] = ()
    odds: Odds = PRIOR
    """The chance of winning as far as it has been learnt; no part of the service's wording."""

    @property
    def margin(self) -> float:
        """What one sale leaves."""
        return self.fee + self.monthly * self.months - self.delivery


def has_site() -> tuple[Gate, ...]:
    """The gate of every service that works on a site: a real one must be there."""
    return (Gate("real_site", frozenset({Outcome.OK}), "there is no real site to work on"),)


@cache
def all_services() -> tuple[Service, ...]:
    """Every service that ships, by id."""
    return scan(services, "SERVICE", Service)
