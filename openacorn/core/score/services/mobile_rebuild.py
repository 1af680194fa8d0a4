"""A rebuild of a site that fails on phones."""

from openacorn.core.score.service import Rule, Service, has_site

SERVICE = Service(
    id="mobile_rebuild",
    title="Mobile rebuild",
    sentence="Most of their customers search on phones, and this site was built before that.",
    fee=1900,
    monthly=25,
    months=24,
    delivery=1000,
    gates=has_site(),
    rules=(
        Rule("viewport", 5, decisive=True),
        Rule("overflow", 3),
        Rule("fixed_layout", 3),
        Rule("dated_markup", 2),
        Rule("tap_phone", 1),
        Rule("load_time", 1),
        Rule("copyright_year", 1),
        Rule("headings", 1),
    ),
)
