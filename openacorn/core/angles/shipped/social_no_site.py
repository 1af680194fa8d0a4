"""Busy on social pages, really no website."""

from openacorn.core.angles.angle import Angle

ANGLE = Angle(
    id="social_no_site",
    name="Busy on social pages, really no website",
    service="new_website",
    line="You keep your social page up, and whoever looks for you outside of that network finds nothing.",
    filter={"check.social_activity": "ok", "check.really_none": "gap"},
)
