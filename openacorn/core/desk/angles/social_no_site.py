"""Active on social pages, no website."""

from openacorn.core.desk.angle import Angle

ANGLE = Angle(
    id="social_no_site",
    name="Active on social pages, no website",
    service="new_website",
    line="You keep your social page up, but people who look for you elsewhere find nothing.",
    filter={"check.social_activity": "ok", "check.no_website_confirmed": "gap"},
)
