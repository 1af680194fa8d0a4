"""Trade and town in title or main heading."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import ListingFacts, Pages
from openacorn.core.audit.finding import Evidence, Finding, gap, not_applicable, ok, partial
from openacorn.core.audit.readable import hidden
from openacorn.core.trades.trade import UnknownTrade, names_trade, normal_words


def evaluate(pages: Pages, listing: ListingFacts) -> Finding:
    """Common practice: a search for "florist port ellery" finds pages that say both where it counts. What names the
    trade only loosely ("Blooms") counts as well: no gap is reported that a reader would not see."""
    page = pages.home
    try:
        trade = listing.trades.of(listing.trade)
    except UnknownTrade:
        return not_applicable("its trade is not known")
    if not listing.town:
        return not_applicable("its town is not known")
    headline = " | ".join(filter(None, (page.title, *(text for level, text in page.headings if level == 1))))
    words = normal_words(headline)
    town = " ".join(normal_words(listing.town)) in " ".join(words)
    named = names_trade(trade, headline) or bool(
        set(words) & {word for term in trade.terms for word in normal_words(term)}
    )
    shown = Evidence(page.url, page.at, headline[:200] or "no title and no main heading")
    if town and named:
        return ok("both", "title or main heading say trade and town", shown)
    if concealed := hidden(page):
        return concealed
    if town or named:
        left = trade.label.lower() if town else listing.town
        return partial(f"no {left}", f"neither title nor main heading say “{left}”", shown)
    return gap(None, "title and main heading say neither trade nor town", shown)


CHECK = Check(
    id="trade_and_town",
    group=Group.SEARCH,
    title="Trade and town in title",
    why="People search for what you are and where you are; pages that say so come first.",
    needs=(Pages, ListingFacts),
    evaluate=evaluate,
    owner=OwnersWords(
        topic="Your trade and town in the title",
        claim="The title and main heading of your home page do not say what you do or where.",
        partly="The title and main heading of your home page do not say both what you do and where.",
        remedy="Say in the title and heading what you do and where.",
    ),
)
