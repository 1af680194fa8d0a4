"""What the home page and its files weigh."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages, Weights
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, partial, unknown
from openacorn.core.audit.readable import hidden

HEAVY_KB, FULL_KB = 3000, 1600
"""The median home page weighs about 2.5 MB (HTTP Archive, from memory): above 3 MB is heavy for a small business's site."""


def evaluate(pages: Pages, weights: Weights) -> Finding:
    """A sum of what is known is a lower bound: it can show that a page is heavy, never that it is light."""
    known = (sum(file.size or 0 for file in weights.files) + weights.html_bytes) // 1000
    unsized = sum(file.size is None for file in weights.files) + weights.unweighed
    kinds = {
        kind: sum(f.size or 0 for f in weights.files if f.kind == kind) // 1000 for kind in ("style", "script", "image")
    }
    parts = ", ".join(f"{kind} {size} kB" for kind, size in kinds.items())
    text = f"{known} kB in {len(weights.files) + 1} files: page {weights.html_bytes // 1000} kB, {parts}"
    shown = Evidence(pages.home.url, pages.home.at, text + (f"; {unsized} more of unknown size" if unsized else ""))
    if known >= HEAVY_KB:
        return gap(known, f"at least {known / 1000:.1f} MB to load", shown)
    if concealed := hidden(pages.home):
        return concealed
    if unsized:
        return unknown(
            f"at least {known} kB; the size of {unsized} file{'s' if unsized != 1 else ''} is not known",
            shown,
            value=known,
        )
    if known >= FULL_KB:
        return partial(known, f"{known / 1000:.1f} MB to load", shown)
    return ok(known, f"{known} kB to load", shown)


CHECK = Check(
    id="page_weight",
    group=Group.SPEED,
    title="Page weight",
    why="Every megabyte costs mobile visitors seconds, and some of their data.",
    needs=(Pages, Weights),
    evaluate=evaluate,
    owner=OwnersWords(
        topic="A light home page",
        claim="Your home page is very heavy to load, especially on a phone.",
        partly="Your home page is heavier to load than it needs to be.",
        remedy="Make the pictures smaller and drop what the page does not need.",
    ),
)
