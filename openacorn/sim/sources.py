"""How an installation reaches the coast's sources."""

from typing import Any

from openacorn.settings import SourceSettings, World
from openacorn.sim.company_register import KEY as REGISTER_KEY
from openacorn.sim.domain_registry import HOST as REGISTRY_HOST
from openacorn.sim.listing_server import KEY as LISTING_KEY
from openacorn.sim.people_directory import KEY as PEOPLE_KEY
from openacorn.sim.social_server import KEY as SOCIAL_KEY

PACE_S = 0.03
REGISTRY: dict[str, Any] = {"registry": f"https://{REGISTRY_HOST}", "endings": ["example"]}
"""Settings by which the coast's registry is reached."""


def world_sources(world: World) -> dict[str, SourceSettings]:
    """Source id → its settings, for a running world."""
    root = {source: f"http://127.0.0.1:{port}" for source, port in world.source_ports.items()}
    return {
        "listing_service": SourceSettings(endpoint=root["listing_service"], key=LISTING_KEY, pace_s=PACE_S),
        "map_data": SourceSettings(endpoint=f"{root['map_data']}/api/interpreter", pace_s=PACE_S),
        "social_pages": SourceSettings(endpoint=root["social_pages"], key=SOCIAL_KEY, pace_s=PACE_S),
        "company_register": SourceSettings(
            endpoint=root["company_register"], key=REGISTER_KEY, pace_s=PACE_S, cost_per_row=0.02
        ),
        "people_directory": SourceSettings(
            endpoint=root["people_directory"], key=PEOPLE_KEY, pace_s=PACE_S, cost_per_row=0.04
        ),
    }
