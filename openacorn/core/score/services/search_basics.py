"""The basics by which search engines find a site."""

from openacorn.core.score.service import Rule, Service, has_site

SERVICE = Service(
    id="search_basics",
    title="Search basics",
    sentence="The site is there, but search engines cannot tell what it is about or where it is.",
    fee=650,
    monthly=120,
    months=6,
    delivery=600,
    gates=has_site(),
    rules=(
        Rule("title", 3),
        Rule("meta_description", 3),
        Rule("headings", 2),
        Rule("structured_data", 3),
        Rule("image_alt", 1),
        Rule("robots_open", 3, decisive=True),
        Rule("indexable", 3, decisive=True),
        Rule("trade_and_town", 2),
        Rule("structured_properties", 1),
        Rule("sitemap", 1),
        Rule("text_amount", 1),
        Rule("https", 1),
    ),
)
