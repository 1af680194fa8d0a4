"""Really no website."""

from openacorn.core.angles.angle import Angle

ANGLE = Angle(
    id="really_no_site",
    name="Really no website",
    service="new_website",
    line="We looked for your website under your name, in the register and in the directories: there is none.",
    filter={"check.really_none": "gap", "reviews": "10.."},
)
