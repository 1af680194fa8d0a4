"""No number that decides changes without docs/figures.md saying so."""

from tests.core.figures import PAGE, figures


def test_the_page_of_figures_says_what_the_code_does() -> None:
    assert figures().splitlines() == PAGE.read_text(encoding="utf-8").splitlines(), "run `python -m tests.core.figures`"
