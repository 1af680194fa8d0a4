"""Does the business run ads on its social page?"""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, unknown
from openacorn.core.audit.reputation import SocialPage


def evaluate(page: SocialPage) -> Finding:
    """As the network tells it; who pays for ads already has a budget and a hope."""
    if page.ads_running is None:
        return unknown("the network does not tell")
    shown = Evidence(page.url, page.at, f"ads running: {'yes' if page.ads_running else 'no'}")
    return ok(True, "ads are running", shown) if page.ads_running else gap(False, "no ads are running", shown)


CHECK = Check(
    id="social_ads",
    group=Group.SOCIAL,
    title="Ads running",
    why="A little money reaches everybody in town who is likely to need you.",
    needs=(SocialPage,),
    evaluate=evaluate,
    rank=70,
    weight=0.3,
)
