"""Is the social page alive?"""

from datetime import date

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, partial, unknown
from openacorn.core.audit.reputation import SocialPage

QUIET_DAYS, DEAD_DAYS = 60, 180
"""Common practice: a page without a post for two months looks asleep, for half a year closed."""


def evaluate(page: SocialPage) -> Finding:
    """Days from the last post to the day the network was asked."""
    if not page.last_post:
        return unknown("the network does not tell when it last posted")
    days = (date.fromisoformat(page.at[:10]) - date.fromisoformat(page.last_post[:10])).days
    followers = "" if page.followers is None else f", {page.followers} followers"
    shown = Evidence(page.url, page.at, f"last post {page.last_post[:10]}{followers}")
    if days > DEAD_DAYS:
        return gap(days, f"no post for {days} days", shown)
    if days > QUIET_DAYS:
        return partial(days, f"no post for {days} days", shown)
    return ok(days, f"last post {days} days ago", shown)


CHECK = Check(
    id="social_activity",
    group=Group.SOCIAL,
    title="Social activity",
    why="People check whether a business is alive by its latest posts.",
    needs=(SocialPage,),
    evaluate=evaluate,
    rank=60,
    owner=OwnersWords(
        topic="A social page that is alive",
        claim="Your social page has had no post for a long time.",
        partly="Your social page has had no post for some time.",
        remedy="Post regularly about what happens in your business.",
    ),
)
