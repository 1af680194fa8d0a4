"""What we say of pages that nobody here wrote, beside what other readers say of them."""

from collections import Counter

from bench import Figures
from tests.wild.contacts import tallies
from tests.wild.judging import Row, judge
from tests.wild.pages import wild_pages


def _share(part: int, whole: int) -> float:
    return round(part / whole, 5) if whole else 0.0


def bench_wild() -> tuple[Figures, str]:
    """Judge all wild pages; per check what was judged, false gaps, false oks and unknowns."""
    pages = list(wild_pages())
    rows, crashed = judge(pages)
    contacts = tallies(pages)
    total = Row(
        *(
            sum(getattr(row, name) for row in rows.values())
            for name in ("decided", "judged", "gaps", "unknown", "false_gaps", "false_oks")
        )
    )
    figures: Figures = {
        "pages": len(pages), "crashed": dict(Counter(crashed)), "judged": total.judged,
        "false_gap": _share(total.false_gaps, total.judged), "false_ok": _share(total.false_oks, total.judged),
        "unknown": _share(total.unknown, total.decided),
        "contacts": {
            kind: {
                "right": tally.right, "wrong": tally.wrong, "missed": tally.missed,
                "precision": round(tally.precision, 4), "recall": round(tally.recall, 4),
            }
            for kind, tally in contacts.items()
        },
        "checks": {
            check: {
                "judged": row.judged, "gaps": row.gaps, "false_gaps": row.false_gaps, "false_oks": row.false_oks,
                "unknown": row.unknown, "wrong": row.wrong,
            }
            for check, row in rows.items()
        },
    }  # fmt: skip
    lines = [f"{'check':20}{'judged':>8}{'gaps':>7}{'false gap':>11}{'false ok':>10}{'unknown':>9}"]
    lines += [f"{c:20}{r.judged:8}{r.gaps:7}{r.false_gaps:11}{r.false_oks:10}{r.unknown:9}" for c, r in rows.items()]
    lines.append(
        f"{len(pages)} pages, {total.judged} answers judged: {100 * figures['false_gap']:.2f} % false gaps, "
        f"{100 * figures['false_ok']:.2f} % false oks; unknown to {100 * figures['unknown']:.1f} % of what another reader decides"
    )
    lines += [
        f"{kind}: {tally.right} right, {len(tally.wrong)} wrong, {len(tally.missed)} missed: "
        f"precision {tally.precision:.3f}, recall {tally.recall:.3f}"
        for kind, tally in contacts.items()
    ]
    return figures, "\n".join(lines)
