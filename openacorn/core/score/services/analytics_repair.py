"""Statistics that count again."""

from openacorn.core.score.service import Rule, Service, has_site

SERVICE = Service(
    id="analytics_repair",
    title="Analytics repair",
    sentence="Nobody knows how many visitors come, or from where: the tag is missing, or it stopped counting.",
    fee=290,
    monthly=25,
    months=12,
    delivery=240,
    gates=has_site(),
    rules=(
        Rule("analytics", 5, decisive=True),
        Rule("conversion_tracking", 2),
        Rule("tag_manager", 1),
        Rule("consent", 2),
    ),
)
