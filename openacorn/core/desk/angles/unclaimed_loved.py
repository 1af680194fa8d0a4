"""Unclaimed listing, high rating."""

from openacorn.core.desk.angle import Angle

ANGLE = Angle(
    id="unclaimed_loved",
    name="Unclaimed listing, high rating",
    service="local_listing",
    line="Your rating is good, but nobody looks after the listing that shows it.",
    filter={"check.claimed": "gap", "rating": "4.3..", "reviews": "5.."},
)
