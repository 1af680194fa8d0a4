"""Certificate lapsed or lapsing."""

from openacorn.core.desk.angle import Angle

ANGLE = Angle(
    id="certificate_lapsing",
    name="Certificate lapsed or lapsing",
    service="security_upkeep",
    line="Browsers warn people away from your site, or will within days: its certificate runs out.",
    filter={"check.certificate_days": "gap,partial"},
)
