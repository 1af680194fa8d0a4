"""May browsers keep the page's files for the next visit?"""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages, Weights
from openacorn.core.audit.finding import Evidence, Finding, gap, not_applicable, ok, partial, unknown

LONG_ENOUGH_S = 86_400
"""A day: anything shorter is fetched again at the next visit (ours, low on purpose; a year is common practice)."""


def evaluate(pages: Pages, weights: Weights) -> Finding:
    """Cache-Control and Expires (RFC 9111) of the files on the site's own host."""
    own = [file for file in weights.files if file.asked]
    if not weights.files:
        return not_applicable("the page loads no files")
    if not own:
        return unknown("none of the page's files could be asked for")
    kept = [file for file in own if (file.kept_s or 0) >= LONG_ENOUGH_S]
    loose = [file for file in own if file not in kept]
    shown = Evidence(pages.home.url, pages.home.at, ", ".join(f.url.rpartition("/")[2] for f in (loose or own)[:4]))
    if not loose:
        return ok(len(own), f"all {len(own)} files asked for may be kept", shown)
    text = f"{len(loose)} of {len(own)} files are fetched again at every visit"
    return partial(len(loose), text, shown) if kept else gap(len(loose), text, shown)


CHECK = Check(
    id="caching",
    group=Group.SPEED,
    title="Caching",
    why="A second page opens at once when the browser may keep your logo and styles from the first.",
    needs=(Pages, Weights),
    evaluate=evaluate,
    weight=0.5,
    rank=60,
    owner=OwnersWords(
        topic="Files kept for the next visit",
        claim="Visitors' browsers must load everything again on every visit.",
        partly="Visitors' browsers must load some files again on every visit.",
        remedy="Let browsers keep your logo, pictures and styles.",
    ),
)
