"""Runs ads without analytics."""

from openacorn.core.desk.angle import Angle

ANGLE = Angle(
    id="ads_uncounted",
    name="Runs ads without analytics",
    service="ads_setup",
    line="You pay for ads, and nothing on your site tells you which of them bring customers.",
    filter={"check.social_ads": "ok", "check.conversion_tracking": "gap"},
)
