"""Heavy home page."""

from openacorn.core.desk.angle import Angle

ANGLE = Angle(
    id="slow_and_heavy",
    name="Heavy home page",
    service="speed",
    line="Your home page is heavier than most people wait for on a phone.",
    filter={"check.page_weight": "gap", "check.real_site": "ok"},
)
