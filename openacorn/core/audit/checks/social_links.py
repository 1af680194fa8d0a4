"""Links to the business's pages on social networks."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.finding import Evidence, Finding, ok
from openacorn.core.audit.readable import nowhere


def evaluate(pages: Pages) -> Finding:
    """Profile links only: share buttons and single posts do not count."""
    found = {link.value: (link, page) for page in reversed(pages.all) for link in page.socials}
    if found:
        evidence = [Evidence(page.url, page.at, link.snippet) for link, page in found.values()]
        networks = sorted({link.how for link, _ in found.values()})
        return ok(networks, "linked: " + ", ".join(networks), *evidence)
    return nowhere(pages, "no social profile linked", "link to a profile on a network")


CHECK = Check(
    id="social_links",
    group=Group.SOCIAL,
    title="Social profiles linked",
    why="People check whether a business is alive by its latest posts.",
    needs=(Pages,),
    evaluate=evaluate,
    owner=OwnersWords(
        topic="Links to your social pages",
        claim="Your website does not link to your social pages.",
        remedy="Link the pages you keep up; start with one.",
    ),
)
