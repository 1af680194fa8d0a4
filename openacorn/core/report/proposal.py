"""A proposal to a business: what is offered, for how much, until when; and the invoice that would follow."""

from dataclasses import dataclass
from datetime import date
from decimal import ROUND_HALF_UP, Decimal

from babel.numbers import format_currency

from openacorn.errors import InvalidInput

CENT = Decimal("0.01")


class ProposalError(InvalidInput):
    """A proposal that cannot be made, shared or accepted; the message says why."""

    where = "proposal"
    remedy = "change that and try again; nothing was changed"


@dataclass(frozen=True, slots=True)
class ProposalItem:
    """A line of a proposal. amount: without tax, in the proposal's currency; monthly: is it due each month?"""

    title: str
    amount: Decimal
    monthly: bool = False


@dataclass(frozen=True, slots=True)
class Totals:
    """Sums of a proposal's items that are due once, or each month."""

    net: Decimal
    tax: Decimal
    gross: Decimal


@dataclass(frozen=True, slots=True)
class PricedProposal:
    """What is offered. name, address: of the business; service: id of what is sold; tax_percent: 0 for none; valid_until: a day
    (ISO 8601); language: of the owner (ISO 639-1); claims: what the offer rests on, in the owner's language; locale: that sums are
    written in (BCP 47), "" for the language's own."""

    name: str
    address: tuple[str, ...]
    service: str
    items: tuple[ProposalItem, ...]
    currency: str
    tax_percent: Decimal
    valid_until: str
    note: str = ""
    language: str = "en"
    claims: tuple[str, ...] = ()
    locale: str = ""

    def totals(self, *, monthly: bool) -> Totals:
        """The sum of what is due once, or each month; the tax is rounded once, on the sum."""
        net = sum((item.amount for item in self.items if item.monthly == monthly), Decimal(0))
        tax = (net * self.tax_percent / 100).quantize(CENT, ROUND_HALF_UP)
        return Totals(net, tax, net + tax)

    @property
    def value(self) -> Decimal:
        """What a sale brings: what is due once, and a year of what is due each month, without tax."""
        return self.totals(monthly=False).net + 12 * self.totals(monthly=True).net

    def over(self, today: date) -> bool:
        """Has its last day passed?"""
        return today > date.fromisoformat(self.valid_until)


def check_proposal(proposal: PricedProposal) -> None:
    """Raise ProposalError for one that cannot be shown."""
    if not proposal.items:
        raise ProposalError("a proposal has at least one item")
    if any(not item.title.strip() for item in proposal.items):
        raise ProposalError("an item has no title")
    try:
        date.fromisoformat(proposal.valid_until)
    except ValueError:
        raise ProposalError(f"{proposal.valid_until!r} is no day: write it as 2026-12-31") from None


def money(amount: Decimal, proposal: PricedProposal) -> str:
    """A sum as the owner's country or language writes it (CLDR)."""
    return str(
        format_currency(amount, proposal.currency, locale=(proposal.locale or proposal.language).replace("-", "_"))
    )
