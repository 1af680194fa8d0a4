"""Address labels for letters, on sheets by the size of a label."""

from collections.abc import Sequence
from dataclasses import dataclass
from html import escape


@dataclass(frozen=True, slots=True)
class LabelSheet:
    """A sheet of labels, in millimetres. across, down: how many; top, left: of the first one; step_x, step_y: to the next."""

    id: str
    title: str
    paper: str
    across: int
    down: int
    width: float
    height: float
    top: float
    left: float
    step_x: float
    step_y: float

    @property
    def labels(self) -> int:
        """Labels on a sheet."""
        return self.across * self.down


SHEETS: dict[str, LabelSheet] = {
    sheet.id: sheet
    for sheet in (
        LabelSheet("a4-24", "A4, 24 labels of 70 × 37 mm", "210mm 297mm", 3, 8, 70, 37, 0.5, 0, 70, 37),
        LabelSheet("a4-21", "A4, 21 labels of 63.5 × 38.1 mm", "210mm 297mm", 3, 7, 63.5, 38.1, 15.15, 7.2, 66, 38.1),
        LabelSheet(
            "a4-14", "A4, 14 labels of 99.1 × 38.1 mm", "210mm 297mm", 2, 7, 99.1, 38.1, 15.15, 4.65, 101.6, 38.1
        ),
        LabelSheet(
            "letter-30", "Letter, 30 labels of 2⅝ × 1 in", "215.9mm 279.4mm", 3, 10, 66.7, 25.4, 12.7, 4.8, 69.85, 25.4
        ),
        LabelSheet(
            "letter-10", "Letter, 10 labels of 4 × 2 in", "215.9mm 279.4mm", 2, 5, 101.6, 50.8, 12.7, 4.05, 106.3, 50.8
        ),
    )
}
"""Sizes that stationers sell (common practice; measures from memory)."""


STYLE = """
@page {{ size: {sheet.paper}; margin: 0 }}
body {{ margin: 0; font: 10pt/1.3 sans-serif }}
.sheet {{ position: relative; width: {paper_width}; height: {paper_height}; page-break-after: always }}
.label {{ position: absolute; box-sizing: border-box; width: {sheet.width}mm; height: {sheet.height}mm; padding: 3mm 5mm;
  overflow: hidden }}
"""


def labels_html(sheet: LabelSheet, addresses: Sequence[Sequence[str]], skip: int = 0) -> str:
    """The labels as HTML for paper. addresses: lines of each; skip: labels of the first sheet that are used already."""
    pages, per = [], sheet.labels
    places: list[Sequence[str]] = [*([()] * skip), *addresses]
    for start in range(0, len(places), per):
        cells = "".join(
            f'<div class="label" style="left:{sheet.left + at % sheet.across * sheet.step_x:.2f}mm;'
            f'top:{sheet.top + at // sheet.across * sheet.step_y:.2f}mm">{"<br>".join(map(escape, lines))}</div>'
            for at, lines in enumerate(places[start : start + per])
            if lines
        )
        pages.append(f'<section class="sheet">{cells}</section>')
    width, height = sheet.paper.split()
    style = STYLE.format(sheet=sheet, paper_width=width, paper_height=height)
    head = (
        f'<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Labels</title><style>{style}</style></head>'
    )
    return f"{head}<body>{''.join(pages)}</body></html>"
