"""The listings and reviews by which a local search is won."""

from openacorn.core.score.service import Rule, Service

SERVICE = Service(
    id="local_listing",
    title="Listings and reviews",
    sentence="Customers nearby choose by stars and photos, and theirs are fewer than their neighbours’.",
    fee=380,
    monthly=90,
    months=12,
    delivery=620,
    rules=(
        Rule("claimed", 4),
        Rule("profile_complete", 3),
        Rule("reviews_volume", 3),
        Rule("search_rank", 3),
        Rule("rating", 2),
        Rule("listing_photos", 2),
        Rule("listings_agree", 2),
    ),
)
