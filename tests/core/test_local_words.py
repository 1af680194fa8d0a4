"""What trades are called elsewhere: words that a person there would search for (from memory)."""

import pytest

from openacorn.core.trades.catalogue import SHIPPED
from openacorn.core.trades.local_words import local_words
from openacorn.gather.queries import words_of

TRADES = {trade.id: trade for trade in SHIPPED}


@pytest.mark.parametrize(
    ("trade", "language", "word"),
    [
        ("florists", "de-AT", "blumenladen"),
        ("florists", "fr", "fleuriste"),
        ("vets", "es-MX", "veterinaria"),
        ("opticians", "nl-BE", "opticien"),
        ("locksmiths", "it", "fabbro"),
        ("florists", "ja-JP", "花屋"),
        ("florists", "pt-BR", "floricultura"),
        ("bicycle-shops", "sv", "cykelaffär"),
    ],
)
def test_a_trade_is_asked_for_in_the_plans_language_first_then_in_our_own(trade: str, language: str, word: str) -> None:
    asked = words_of(TRADES[trade], language)
    assert word in local_words(TRADES[trade], language)
    assert asked[0] == local_words(TRADES[trade], language)[0]
    assert set(words_of(TRADES[trade])) <= set(asked)


@pytest.mark.parametrize("language", ["", "en-AU", "mi", "../../etc", "de/../fr"])
def test_a_language_without_words_leaves_our_own(language: str) -> None:
    assert words_of(TRADES["vets"], language) == words_of(TRADES["vets"])
