"""The demo's agency: its world, settings, letterhead and the recipe of the coast's directory."""

from pathlib import Path

from openacorn.core.gather.recipe import FieldRule, Recipe
from openacorn.core.outreach.text_gateway import TextGateway
from openacorn.core.report.letterhead import Letterhead
from openacorn.settings import Settings, World, WritingSettings
from openacorn.sim.coast import TOWNS
from openacorn.sim.directory_site import HOST as DIRECTORY_HOST
from openacorn.sim.generate import SEED, VERSION, make_world
from openacorn.sim.sources import REGISTRY, world_sources
from openacorn.sim.writing_server import KEY as WRITING_KEY
from openacorn.sim.writing_server import MODEL

LETTERHEAD = Letterhead(
    "Wrenfold Studio", "Ada Wren", "Websites that bring people through the door", "(03) 5550 1180", "hello@wrenfold.example",
    "wrenfold.example", "#2f5f73",
)  # fmt: skip
DIRECTORY_PLAN = Recipe(
    title="Tarrow Pages",
    address=f"http://{DIRECTORY_HOST}/search?what={{term}}&where={{place}}",
    item="ul.results > li.result",
    fields=(
        FieldRule("name", "h2, h3"),
        FieldRule("street", "[itemprop=streetAddress], .result-address"),
        FieldRule("town", "[itemprop=addressLocality], .result-town"),
        FieldRule("postcode", "[itemprop=postalCode], .result-postcode"),
        FieldRule("phone", "[itemprop=telephone], .tel"),
        FieldRule("email", "a[href^='mailto:']", "link"),
        FieldRule("website", "[itemprop=url], a.out", "link"),
    ),
    next="a.pager-next",
    limit=20,
    pace_s=0.03,
)
"""The agency's recipe for the coast's directory."""


def demo_settings(folder: Path, world: World) -> Settings:
    """Wrenfold Studio of Port Ellery, with the coast's servers as its sources."""
    return Settings(
        agency="Wrenfold Studio",
        region="AU",
        contact_address="hello@wrenfold.example",
        sources=world_sources(world),
        ground_map=str(folder / "world" / "ground.geojson"),
        home=(TOWNS[0].lat, TOWNS[0].lon),
        set_up=True,
        world=world,
        writing=WritingSettings(
            address=f"http://127.0.0.1:{world.agency_ports['writing']}/v1", model=MODEL, key=WRITING_KEY
        ),
        **REGISTRY,
    )


def coast_gateway(world: World) -> TextGateway:
    """The coast's gateway for text messages, for Australian mobiles."""
    root = f"http://127.0.0.1:{world.agency_ports['texts']}/v1"
    return TextGateway(
        address=f"{root}/messages",
        body='{"to": "{to}", "text": "{text}", "from": "{sender}", "reference": "{reference}"}',
        sender="Wrenfold", number="message.id", error="error", inbox=f"{root}/inbox?since={{since}}", incoming="items",
        countries=("AU",),
    )  # fmt: skip


def prepare_world(folder: Path) -> Path:
    """Make the world's files if they are not there; return their folder."""
    world, stamp = folder / "world", folder / "world" / "seed"
    made = f"{SEED} {VERSION}"
    if not stamp.exists() or stamp.read_text() != made:
        make_world(world)
        stamp.write_text(made)
    return world
