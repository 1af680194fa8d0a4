"""No website at all."""

from openacorn.core.desk.angle import Angle

ANGLE = Angle(
    id="really_no_site",
    name="No website at all",
    service="new_website",
    line="We looked for your website under your name, in the register and in the directories: there is none.",
    filter={"check.no_website_confirmed": "gap", "reviews": "10.."},
)
