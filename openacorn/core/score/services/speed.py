"""A site made fast."""

from openacorn.core.score.service import Rule, Service, has_site

SERVICE = Service(
    id="speed",
    title="Faster site",
    sentence="The page is heavier or slower than it needs to be, and visitors leave.",
    fee=750,
    monthly=0,
    months=0,
    delivery=350,
    gates=has_site(),
    rules=(
        Rule("load_measured", 4, decisive=True),
        Rule("load_time", 2),
        Rule("page_weight", 3),
        Rule("server_wait", 3),
        Rule("large_images", 2),
        Rule("compression", 1),
        Rule("caching", 1),
    ),
)
