"""Invented names, streets and phones of the coast. Phones only from ranges reserved for fiction."""

import random
from dataclasses import dataclass

FIRST = """Ada Arlo Bea Bram Cato Clem Dara Della Edda Eamon Fern Finlay Greta Hal Ines Ivo Jem Juno Kit Lark Leif Mabel Milo Nell
Nico Odette Oren Petra Quin Rhea Rolf Saskia Silas Tamsin Teo Una Vera Wim Yara Zeb""".split()
LAST = """Abelard Ashgrove Barrowby Bexcombe Calloway Corvane Dapplewood Delacroft Ebbsworth Fairlight Fennimore Garrowby Haldane
Harrowgate Isenhart Jessamy Kestleman Larkspur Lorrimer Marchbank Müllner Nettleton Núñera Okehurst Ormsby Pellwright Quaife Ravensby
Rookwood Sørland Saltash Tamblyn Thackrow Underhay Vantongeren Wexcombe Whitlock Yardley Zephyrine Brackenridge Dunnock Eldermere
Fossgate Greyling Hollinside Ivesdale Jorrocks Kittiwake Lynchmere Merriden""".split()
STREETS = """Harbour Mill Station Chapel Beacon Kiln Orchard Salt Cooper Chandler Gull Anchor Heron Willow Granite Market Bridge Lantern
Signal Tannery Rope Quarry Fern Tide Juniper Copper Driftwood Cormorant Bellbird Saddler""".split()
STREET_KINDS = (
    ("Street", "St"),
    ("Road", "Rd"),
    ("Avenue", "Ave"),
    ("Lane", "Ln"),
    ("Parade", "Pde"),
    ("Terrace", "Tce"),
)
EPITHETS = """Blue Silver Golden Little Old New Bright Quiet Northern Southern Wild Green Red Swift Kind Honest True First Grand
Coastal Harbour Lantern Tide Gannet Heron Anchor Beacon Thistle Larch Saltmarsh Driftwood Kelp Sandpiper Compass""".split()

TRADE_NOUNS: dict[str, tuple[str, ...]] = {
    "vets": ("Veterinary Clinic", "Vets", "Animal Hospital", "Vet Surgery"),
    "florists": ("Florist", "Flowers", "Flower Shop", "Floral Studio", "Blooms"),
    "opticians": ("Opticians", "Optometrists", "Eye Care", "Eyewear", "Optical"),
    "locksmiths": ("Locksmiths", "Lock & Key", "Locks", "Key Cutting"),
    "bicycle-shops": ("Cycles", "Bike Shop", "Bicycles", "Bike Works"),
    "driving-schools": ("Driving School", "Driver Training", "Driving Lessons"),
    "dry-cleaners": ("Dry Cleaners", "Dry Cleaning", "Garment Care"),
    "upholsterers": ("Upholstery", "Upholsterers", "Furniture Repairs"),
    "tree-surgeons": ("Tree Services", "Tree Care", "Arborists", "Tree Surgeons"),
    "boatyards": ("Boatyard", "Boat Builders", "Marine Services", "Shipwrights"),
    "photographers": ("Photography", "Photo Studio", "Portraits", "Photographers"),
    "physiotherapists": ("Physiotherapy", "Physio", "Physiotherapists", "Physio Clinic"),
}
MOBILES = (
    "570006 570156 570157 570158 570159 570110 570313 570737 571266 571491 571804 572549 572665 572983 573770 573087 574118 "
    "574632 575254 575789 576398 576801 577426 577644 578957 578148 578888 579212 579760 579455"
).split()
"""The regulator's numbers for fiction: 0491 and these."""

LANDLINE_BLOCKS = tuple(f"{area}{block}" for area in ("03", "02", "07", "08") for block in ("5550", "7010"))


@dataclass(slots=True)
class Phones:
    """Hands out landlines once each, and the few reserved mobiles again and again, but not twice in a trade and town."""

    rng: random.Random
    next_line: int = 0

    def landline(self) -> str:
        """A number in E.164 that nobody else has."""
        block, tail = LANDLINE_BLOCKS[self.next_line // 10000 % 8], self.next_line * 7919 % 10000
        self.next_line += 1
        return f"+61{block[1:]}{tail:04d}"

    def mobile(self, serial: int) -> str:
        """The `serial`-th reserved mobile in E.164, counting round."""
        return f"+61491{MOBILES[serial % len(MOBILES)]}"


def national(e164: str, style: int) -> str:
    """A number as people write it: four habits."""
    digits = "0" + e164.removeprefix("+61")
    if digits.startswith("04"):
        forms = (
            f"{digits[:4]} {digits[4:7]} {digits[7:]}",
            digits,
            f"+61 {digits[1:4]} {digits[4:7]} {digits[7:]}",
            f"{digits[:4]}-{digits[4:7]}-{digits[7:]}",
        )
    else:
        forms = (
            f"({digits[:2]}) {digits[2:6]} {digits[6:]}",
            digits,
            f"+61 {digits[1]} {digits[2:6]} {digits[6:]}",
            f"{digits[:2]}-{digits[2:6]}-{digits[6:]}",
        )
    return forms[style % 4]


def slug(text: str) -> str:
    """A host label: lower-case ASCII letters and digits."""
    table = str.maketrans("üúñøåöäé", "uunoaoae")
    return "".join(char for char in text.lower().translate(table) if char.isascii() and char.isalnum())
