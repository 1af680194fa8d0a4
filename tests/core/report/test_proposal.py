"""Proposals: sums that add up, and a page that says the same."""

from datetime import date
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st
from selectolax.lexbor import LexborHTMLParser

from openacorn.core.languages.catalogue import LANGUAGES, Translator
from openacorn.core.report.letterhead import Letterhead
from openacorn.core.report.proposal import PricedProposal, ProposalError, ProposalItem, check_proposal, money
from openacorn.core.report.render import proposal_page

AMOUNTS = st.decimals(0, 100_000, places=2)
ITEMS = st.lists(
    st.builds(ProposalItem, st.text(min_size=1, max_size=30), AMOUNTS, st.booleans()), min_size=1, max_size=8
)


def proposal(*items: ProposalItem, tax: str = "0", **more: object) -> PricedProposal:
    values = {"note": "", "language": "en", "claims": ()} | more
    return PricedProposal("Gull Vets", ("4 Harbour Road",), "speed", items, "AUD", Decimal(tax), "2026-12-31", **values)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("amounts", "tax", "sums"),
    [
        (["1200", "80.50"], "10", ("1280.50", "128.05", "1408.55")),
        (["0.05"], "10", ("0.05", "0.01", "0.06")),  # half a cent is rounded up (common practice)
        (["33.33", "33.33", "33.34"], "19", ("100.00", "19.00", "119.00")),  # on the sum, not line by line
        (["10"], "0", ("10", "0.00", "10.00")),
    ],
)
def test_sums_as_on_paper(amounts: list[str], tax: str, sums: tuple[str, str, str]) -> None:
    found = proposal(*(ProposalItem("x", Decimal(amount)) for amount in amounts), tax=tax).totals(monthly=False)
    assert (found.net, found.tax, found.gross) == tuple(map(Decimal, sums))


@given(ITEMS, st.decimals(0, 50, places=2))
def test_once_and_monthly_are_kept_apart(items: list[ProposalItem], tax: Decimal) -> None:
    made = proposal(*items, tax=str(tax))
    once, monthly = made.totals(monthly=False), made.totals(monthly=True)
    assert once.net + monthly.net == sum(item.amount for item in items)
    assert once.net + once.tax == once.gross
    assert abs(once.tax - once.net * tax / 100) <= Decimal("0.005")
    assert made.value == once.net + 12 * monthly.net


@pytest.mark.parametrize("language", LANGUAGES)
def test_the_page_has_every_item_and_sum_in_the_owners_language(language: str) -> None:
    words = Translator(language)
    made = proposal(
        ProposalItem("Website <b>", Decimal("1200")), ProposalItem("Care", Decimal("49.90"), monthly=True), tax="10", language=language,
        claims=("A claim & more.",), note="We begin in May.",
    )  # fmt: skip
    html = proposal_page(
        made, Letterhead("Wrenfold Studio"), number="2026-0001", made_at="2026-11-30T10:00:00+00:00", token="t"
    )
    tree = LexborHTMLParser(html)
    text = tree.text()
    for said in ("Website <b>", "A claim & more.", "We begin in May.", "2026-0001", words.text("Accept the proposal")):
        assert said in text, said
    for amount in ("1200", "49.90", "120", "1320", "4.99", "54.89"):
        assert money(Decimal(amount), made) in text, amount
    assert tree.css("form[method=post] input[name=name]")
    shut = proposal_page(made, Letterhead("W"), number="1", made_at="2026-11-30", accepted=("Maria Lind", "2026-12-01"))
    assert "Maria Lind" in shut
    assert "<form" not in shut
    draft = proposal_page(
        made, Letterhead("W"), number="1", made_at="2026-11-30", accepted=("Maria", "2026-12-01"), invoice=True
    )
    assert words.text("Invoice (draft)") in draft
    assert "A claim" not in draft


@pytest.mark.parametrize(
    ("locale", "language", "written"),
    [
        ("en-AU", "en", "$1,234.50"),
        ("", "en", "A$1,234.50"),
        ("", "de", "1.234,50\u00a0AU$"),
        ("en-NZ", "en", "A$1,234.50"),
    ],
)
def test_sums_are_written_as_in_the_owners_country(locale: str, language: str, written: str) -> None:
    """As CLDR has them."""
    assert money(Decimal("1234.5"), proposal(language=language, locale=locale)) == written


def test_what_cannot_be_a_proposal() -> None:
    for wrong in (proposal(), proposal(ProposalItem(" ", Decimal(1)))):
        with pytest.raises(ProposalError):
            check_proposal(wrong)
    assert not proposal(ProposalItem("x", Decimal(1))).over(date(2026, 12, 31))
    assert proposal(ProposalItem("x", Decimal(1))).over(date(2027, 1, 1))
