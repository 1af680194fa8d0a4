"""Is there really no website?"""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import ListingFacts
from openacorn.core.audit.finding import Evidence, Finding, gap, partial, unknown
from openacorn.core.audit.offsite import SiteSearch


def evaluate(listing: ListingFacts, search: SiteSearch) -> Finding:
    """A gap only if every address that any source, an e-mail's domain or the name leads to was tried and is nobody's or
    another's. One that could not be tried leaves it open: "none listed" is not "none"."""
    theirs = [item for item in search.tried if item.verdict == "theirs"]
    if theirs:
        best = theirs[0]
        return partial(
            best.url,
            f"found, though not listed: {best.url}",
            Evidence(best.url, search.at, f"{best.how}: {best.shown}"),
        )
    open_ones = [item for item in search.tried if item.verdict == "undecided"]
    if open_ones:
        first = open_ones[0]
        return unknown(
            f"none listed; {first.url} could not be judged",
            Evidence(first.url, search.at, f"{first.how}: {first.shown}"),
        )
    if not search.tried:
        return unknown("none listed; no address could be thought of to try")
    tried = "; ".join(f"{item.url} ({item.verdict})" for item in search.tried[:6])
    return gap(None, f"no website: {len(search.tried)} addresses tried", Evidence(listing.source, search.at, tried))


CHECK = Check(
    id="no_website_confirmed",
    group=Group.PRESENCE,
    title="No website (confirmed)",
    why="Without a site you are found only where others list you, in their words and beside your competitors.",
    needs=(ListingFacts, SiteSearch),
    evaluate=evaluate,
    rank=15,
    owner=OwnersWords(
        topic="A website",
        claim="You have no website of your own that people could find.",
        partly="You have a website, but no listing leads to it.",
        remedy="Build a small site of your own, and link it wherever you are listed.",
    ),
)
