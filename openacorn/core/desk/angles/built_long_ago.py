"""Well known, built long ago."""

from openacorn.core.desk.angle import Angle

ANGLE = Angle(
    id="built_long_ago",
    name="Well known, built long ago",
    service="mobile_rebuild",
    line="You have more reviews than most around you, and a website from another age of the web.",
    filter={"check.dated_markup": "gap,partial", "check.reviews_volume": "ok"},
)
