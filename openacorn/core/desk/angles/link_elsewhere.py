"""Link leads to somebody else."""

from openacorn.core.desk.angle import Angle

ANGLE = Angle(
    id="link_elsewhere",
    name="Link leads to somebody else",
    service="new_website",
    line="The website in your listing is not yours: it leads your customers to another business.",
    filter={"check.site_ownership": "gap"},
)
