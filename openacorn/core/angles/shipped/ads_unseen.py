"""Advertises, meets nobody twice."""

from openacorn.core.angles.angle import Angle

ANGLE = Angle(
    id="ads_unseen",
    name="Advertises, meets nobody twice",
    service="ads_setup",
    line="People click your ads once and never hear of you again: there is nothing on the site to bring them back.",
    filter={"check.social_ads": "ok", "check.ad_pixel": "gap"},
)
