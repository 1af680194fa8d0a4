"""Write down how often our gaps are right on the wild pages: `python -m tests.wild.measure`, after a change of what is read."""

from pathlib import Path

from openacorn.core.report import measured
from tests.wild.judging import judge
from tests.wild.pages import wild_pages


def main() -> None:
    """Judge every page, and replace the table that decides what an owner is told."""
    rows, _ = judge(wild_pages())
    lines = [f"{check}\t{row.gaps}\t{row.false_gaps}" for check, row in rows.items() if row.gaps]
    path = Path(measured.__file__).with_name(measured.TABLE)
    path.write_text("check\tgaps\tfalse_gaps\n" + "\n".join(lines) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
