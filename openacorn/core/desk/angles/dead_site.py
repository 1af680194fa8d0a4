"""Listed site is dead."""

from openacorn.core.desk.angle import Angle

ANGLE = Angle(
    id="dead_site",
    name="Listed site is dead",
    service="new_website",
    line="The address in your listing leads nowhere: everybody who taps it gets an error.",
    filter={"check.answers": "gap"},
)
