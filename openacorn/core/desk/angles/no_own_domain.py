"""No domain of their own."""

from openacorn.core.desk.angle import Angle

ANGLE = Angle(
    id="no_own_domain",
    name="No domain of their own",
    service="domain_mail",
    line="Your website uses somebody else’s name; a domain of your own costs less than a coffee a month.",
    filter={"check.own_domain": "gap"},
)
