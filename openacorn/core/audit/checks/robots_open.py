"""Does robots.txt let search engines in?"""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.finding import Evidence, Finding, gap, ok
from openacorn.core.audit.offsite import Crawling


def evaluate(crawling: Crawling) -> Finding:
    """The rules for the largest search engine's robot, as RFC 9309 reads them; a missing file lets everybody in."""
    if crawling.blocked:
        shown = Evidence(crawling.rule, crawling.at, f"Disallow, for {crawling.url}")
        return gap("kept out", "robots.txt keeps search engines out", shown)
    return ok("open", "robots.txt lets search engines in", Evidence(crawling.rule, crawling.at, "no rule in the way"))


CHECK = Check(
    id="robots_open",
    group=Group.SEARCH,
    title="Search engines allowed",
    why="One line left over from when the site was built keeps it out of every search result.",
    needs=(Crawling,),
    evaluate=evaluate,
    rank=4,
    owner=OwnersWords(
        topic="Open to search engines",
        claim="Your website blocks search engines.",
        remedy="Allow search engines again.",
    ),
)
