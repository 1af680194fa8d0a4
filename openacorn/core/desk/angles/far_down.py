"""Liked, but far down in local search."""

from openacorn.core.desk.angle import Angle

ANGLE = Angle(
    id="far_down",
    name="Liked, but far down in local search",
    service="local_listing",
    line="Your customers rate you well, but people who search for your trade in {town} do not see you.",
    filter={"check.search_rank": "gap", "rating": "4.."},
)
