"""Tracking and remarketing set up properly."""

from openacorn.core.scoring.service import Rule, Service, has_site

SERVICE = Service(
    id="ads_tracking",
    title="Ads and tracking",
    sentence="Visitors come and go unseen: nothing counts them and nothing brings them back.",
    fee=480,
    monthly=190,
    months=8,
    delivery=900,
    gates=has_site(),
    rules=(
        Rule("analytics", 4),
        Rule("ad_pixel", 4),
        Rule("social_links", 1),
    ),
)
