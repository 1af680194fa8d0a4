"""Outdated analytics."""

from openacorn.core.desk.angle import Angle

ANGLE = Angle(
    id="tracking_retired",
    name="Outdated analytics",
    service="analytics_repair",
    line="The visitor counter on your site is of a generation that was switched off; it has counted nobody since.",
    filter={"check.retired_analytics": "gap"},
)
