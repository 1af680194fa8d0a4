"""Pictures larger than any screen needs."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import FileKind, Pages, Weights
from openacorn.core.audit.finding import Evidence, Finding, gap, not_applicable, ok, partial, unknown
from openacorn.core.audit.readable import hidden

LARGE_KB, HUGE_KB = 300, 700
"""A full-width photograph well compressed has 150 to 300 kB (common practice)."""


def evaluate(pages: Pages, weights: Weights) -> Finding:
    """By size in bytes, as the server tells it."""
    images = [file for file in weights.files if file.kind is FileKind.IMAGE]
    if not images and not weights.unweighed:
        return hidden(pages.home) or not_applicable("the home page loads no pictures")
    large = [file for file in images if (file.size or 0) >= LARGE_KB * 1000]
    if large:
        worst = max(large, key=lambda file: file.size or 0)
        kb = (worst.size or 0) // 1000
        shown = Evidence(pages.home.url, pages.home.at, f"{worst.url} has {kb} kB")
        text = f"{len(large)} pictures of {LARGE_KB} kB and more"
        return gap(kb, text, shown) if kb >= HUGE_KB else partial(kb, text, shown)
    unsized = sum(file.size is None for file in images) + weights.unweighed
    if unsized:
        return unknown(f"the size of {unsized} file{'s' if unsized != 1 else ''} is not known")
    return ok(max((file.size or 0) // 1000 for file in images), "no picture is too large")


CHECK = Check(
    id="large_images",
    group=Group.SPEED,
    title="Picture sizes",
    why="One photo straight from the camera weighs more than all the rest of your page.",
    needs=(Pages, Weights),
    evaluate=evaluate,
    rank=55,
    owner=OwnersWords(
        topic="Pictures of a sensible size",
        claim="Some pictures on your home page are far larger than any screen needs.",
        partly="Some pictures on your home page are larger than they need to be.",
        remedy="Save the pictures in the size in which they are shown.",
    ),
)
