"""Ads and remarketing that can be measured."""

from openacorn.core.score.service import Rule, Service, has_site

SERVICE = Service(
    id="ads_setup",
    title="Ads and remarketing",
    sentence="Visitors come once and never hear from them again, and nobody measures what the ads bring.",
    fee=480,
    monthly=190,
    months=8,
    delivery=900,
    gates=has_site(),
    rules=(
        Rule("ad_pixel", 4),
        Rule("conversion_tracking", 3),
        Rule("meta_pixel", 2),
        Rule("google_ads_tag", 2),
        Rule("social_ads", 1),
    ),
)
