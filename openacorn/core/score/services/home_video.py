"""A film on the home page."""

from openacorn.core.score.service import Rule, Service, has_site

SERVICE = Service(
    id="home_video",
    title="Home-page video",
    sentence="People watch before they read, and there is nothing to watch.",
    fee=1200,
    monthly=0,
    months=0,
    delivery=600,
    gates=has_site(),
    rules=(
        Rule("video", 4),
        Rule("text_amount", 1),
        Rule("listing_photos", 1),
        Rule("people_named", 1),
    ),
)
