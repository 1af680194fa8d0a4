"""Advertises without retargeting."""

from openacorn.core.desk.angle import Angle

ANGLE = Angle(
    id="ads_unseen",
    name="Advertises without retargeting",
    service="ads_setup",
    line="People click your ads once and never hear of you again: there is nothing on the site to bring them back.",
    filter={"check.social_ads": "ok", "check.ad_pixel": "gap"},
)
