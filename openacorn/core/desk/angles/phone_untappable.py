"""Cannot be called from a phone."""

from openacorn.core.desk.angle import Angle

ANGLE = Angle(
    id="phone_untappable",
    name="Cannot be called from a phone",
    service="mobile_rebuild",
    line="On a phone your number cannot be tapped and the page does not fit the screen.",
    filter={"check.tap_phone": "gap,partial", "check.viewport": "gap"},
)
