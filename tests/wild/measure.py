"""Write down what we say of the wild pages, and how often our gaps are right: `python -m tests.wild.measure`, after a change of what is read."""

from pathlib import Path

from openacorn.core.report import measured
from tests.wild.judging import judge
from tests.wild.ledger import FILE, lines
from tests.wild.pages import wild_pages


def main() -> None:
    """Judge every page, and replace the table that decides what an owner is told, and the ledger."""
    rows, _ = judge(wild_pages())
    counts = [f"{check}\t{row.gaps}\t{row.false_gaps}" for check, row in rows.items() if row.gaps]
    path = Path(measured.__file__).with_name(measured.TABLE)
    FILE.write_text("\n".join(lines(wild_pages())) + "\n", encoding="utf-8")
    path.write_text("check\tgaps\tfalse_gaps\n" + "\n".join(counts) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
