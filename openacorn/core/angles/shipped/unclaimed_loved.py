"""Unclaimed listing, high rating."""

from openacorn.core.angles.angle import Angle

ANGLE = Angle(
    id="unclaimed_loved",
    name="Unclaimed listing, high rating",
    service="local_listing",
    line="Your stars are good, and nobody looks after the page they stand on.",
    filter={"check.claimed": "gap", "rating": "4.3..", "reviews": "5.."},
)
