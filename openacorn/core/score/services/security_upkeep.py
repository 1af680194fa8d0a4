"""A site kept safe and up to date."""

from openacorn.core.score.service import Rule, Service, has_site

SERVICE = Service(
    id="security_upkeep",
    title="Security and upkeep",
    sentence="Browsers warn visitors away, or soon will.",
    fee=240,
    monthly=45,
    months=24,
    delivery=520,
    gates=has_site(),
    rules=(
        Rule("https", 4, decisive=True),
        Rule("certificate_days", 4, decisive=True),
        Rule("https_redirect", 2),
        Rule("mixed_content", 2),
        Rule("hsts", 1),
        Rule("copyright_year", 1),
        Rule("privacy_page", 1),
    ),
)
