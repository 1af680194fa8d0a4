"""Invisible to search."""

from openacorn.core.desk.angle import Angle

ANGLE = Angle(
    id="invisible_to_search",
    name="Invisible to search",
    service="search_basics",
    line="Search engines are told neither what you do nor where: the page that says so is missing its title.",
    filter={"check.title": "gap", "check.meta_description": "gap", "check.real_site": "ok"},
)
