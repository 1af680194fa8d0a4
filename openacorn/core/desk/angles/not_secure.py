"""Marked as not secure."""

from openacorn.core.desk.angle import Angle

ANGLE = Angle(
    id="not_secure",
    name="Marked as not secure",
    service="security_upkeep",
    line="Every browser writes “not secure” beside your address.",
    filter={"check.https": "gap", "check.real_site": "ok"},
)
