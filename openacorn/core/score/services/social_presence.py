"""Social pages that are looked after."""

from openacorn.core.score.service import Rule, Service

SERVICE = Service(
    id="social_presence",
    title="Social presence",
    sentence="Their social pages are inactive or cannot be found from the site.",
    fee=250,
    monthly=160,
    months=9,
    delivery=800,
    rules=(
        Rule("social_activity", 4),
        Rule("social_links", 3),
        Rule("profile_theirs", 2),
        Rule("social_ads", 1),
    ),
)
