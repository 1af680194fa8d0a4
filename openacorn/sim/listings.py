"""What the listing service knows of the coast: as untidy as real listings are."""

import random
import re
from typing import Any

from openacorn.sim.business import Business
from openacorn.sim.coast import TOWNS
from openacorn.sim.names import LAST, STREETS, national

CATEGORIES: dict[str, tuple[str, ...]] = {
    "vets": ("Veterinarian", "Animal hospital", "Veterinary clinic"),
    "florists": ("Florist", "Flower shop", "Flower delivery"),
    "opticians": ("Optician", "Optometrist", "Eyewear store", "Eye care centre"),
    "locksmiths": ("Locksmith", "Key cutting service", "Lock service"),
    "bicycle-shops": ("Bicycle shop", "Bicycle repair shop", "Bike shop"),
    "driving-schools": ("Driving school", "Driving instructor", "Driver training centre"),
    "dry-cleaners": ("Dry cleaner", "Dry cleaning", "Garment care service"),
    "upholsterers": ("Upholsterer", "Upholstery shop", "Furniture repair shop"),
    "tree-surgeons": ("Tree surgeon", "Arborist", "Tree service", "Tree care"),
    "boatyards": ("Boatyard", "Boat builder", "Boat repair shop", "Marine service"),
    "photographers": ("Photographer", "Photography studio", "Portrait studio"),
    "physiotherapists": ("Physiotherapist", "Physiotherapy clinic", "Physical therapist"),
}
SEARCH_WORDS: dict[str, tuple[str, ...]] = {
    "vets": ("vet", "veterinarian", "veterinary", "animal hospital", "animal clinic"),
    "florists": ("florist", "flower shop", "flower delivery", "floral studio"),
    "opticians": ("optician", "optometrist", "optometry", "eyewear", "eye care", "optical"),
    "locksmiths": ("locksmith", "key cutting", "lock service", "key service"),
    "bicycle-shops": ("bicycle shop", "bike shop", "cycle shop", "bicycle store", "bicycle repair"),
    "driving-schools": ("driving school", "driving lesson", "driving instructor", "driver training"),
    "dry-cleaners": ("dry cleaner", "dry cleaning", "laundry service", "garment care"),
    "upholsterers": ("upholsterer", "upholstery", "furniture repair", "re upholstery"),
    "tree-surgeons": ("tree surgeon", "arborist", "tree service", "tree care", "tree lopping"),
    "boatyards": ("boatyard", "boat builder", "boat repair", "marine service", "shipwright"),
    "photographers": ("photographer", "photography", "photo studio", "portrait studio"),
    "physiotherapists": ("physiotherapist", "physiotherapy", "physical therapist", "physio"),
}
"""What the service understands: words people type → its own categories."""


def stem(text: str) -> list[str]:
    """Lower-case words in a rough singular."""
    words = [word for word in re.split(r"[^\w]+", text.lower()) if word]
    return [word[:-1] if word.endswith("s") and not word.endswith("ss") else word for word in words]


def trade_searched(words: str) -> str:
    """The trade that people mean by these words, "" if none."""
    wanted = stem(words)
    return next((trade for trade, known in SEARCH_WORDS.items() if any(stem(word) == wanted for word in known)), "")


STRANGER_KINDS: tuple[tuple[str, str, str], ...] = (
    ("bicycle-shops", "Motorcycle dealer", "Motorcycles"), ("vets", "Pet shop", "Pets & Feed"), ("florists", "Garden centre", "Nursery"),
    ("opticians", "Hearing aid shop", "Hearing"), ("driving-schools", "Flying school", "Aero Club"), ("dry-cleaners", "Carpet cleaner", "Carpets"),
    ("boatyards", "Boat hire", "Boat Hire"), ("photographers", "Camera shop", "Cameras"), ("tree-surgeons", "Garden service", "Mowing"),
    ("physiotherapists", "Gym", "Fitness"), ("upholsterers", "Curtain shop", "Curtains"), ("locksmiths", "Shoe repair", "Cobbler"),
)  # fmt: skip
"""The wrong trade that a search for the first brings along."""


def variant(name: str, rng: random.Random, *, entities: bool = True) -> str:
    """The same name as another hand would write it."""
    forms = (
        name.replace("&", "&amp;"), name.replace("&", "and"), name.upper(), name + " Pty Ltd", "The " + name,
        name.replace("'s", "s"), name.translate(str.maketrans("üúøå", "uuoa")), name,
    )  # fmt: skip
    return rng.choice(forms if entities else forms[1:])


def street_variant(street: str, rng: random.Random) -> str:
    short = street
    for long, brief in (
        ("Street", "St"),
        ("Road", "Rd"),
        ("Avenue", "Ave"),
        ("Lane", "Ln"),
        ("Parade", "Pde"),
        ("Terrace", "Tce"),
    ):
        short = short.replace(long, brief)
    return rng.choice((street, short, short + ".", f"Shop {rng.randint(1, 9)}, {short}"))


def _row(business: Business, serial: str, rng: random.Random, *, double: bool) -> dict[str, Any]:
    moved = rng.gauss(0, 25 if double else 12) / 111_000, rng.gauss(0, 25 if double else 12) / 88_600
    if rng.random() < 0.02:
        moved = rng.uniform(-0.004, 0.004), rng.uniform(-0.004, 0.004)  # a pin dropped in the wrong street
    category = rng.choice(CATEGORIES[business.trade])
    if not double and rng.random() < 0.015:
        category = "Point of interest"
    website = business.website
    if website and rng.random() < 0.15:
        website = website.removesuffix("/") + "/?utm_source=listing&utm_medium=profile"
    hours = ["Mon-Fri 09:00-17:30", "Sat 09:00-12:00"] if rng.random() < 0.7 else None
    return {
        "id": serial, "_business": business.id, "_term": business.trade, "name": variant(business.name, rng) if double or rng.random() < 0.35 else business.name,
        "category": category,
        "location": {
            "lat": round(business.lat + moved[0], 6), "lon": round(business.lon + moved[1], 6),
            "street": street_variant(business.street, rng), "town": business.town, "postcode": business.postcode,
        },
        "phone": "" if double and rng.random() < 0.15 else national(business.phone, rng.randrange(4)),
        "website": "" if double and rng.random() < 0.4 else website,
        "rating": business.rating if business.reviews else None, "review_count": max(0, business.reviews // (8 if double else 1)),
        "claimed": rng.random() < 0.7, "photo_count": int(rng.expovariate(1 / 6)), "staff": business.staff if rng.random() < 0.6 else "",
        "price_level": business.price if rng.random() < 0.5 else None, "hours": hours, "permanently_closed": business.closed,
        "prominence": round(business.reviews ** 0.5 * business.rating + rng.random(), 4),
    }  # fmt: skip


def list_business(business: Business, rng: random.Random) -> list[dict[str, Any]]:
    """The service's listings of one business: mostly one, sometimes none or two."""
    roll = rng.random()
    if roll < 0.06:
        return []
    rows = [_row(business, f"T{business.id:05d}{rng.randrange(1000):03d}", rng, double=False)]
    if roll > 0.955:
        rows.append(_row(business, f"U{business.id:05d}{rng.randrange(1000):03d}", rng, double=True))
    return rows


def strangers(rng: random.Random, start: int) -> list[dict[str, Any]]:
    """Businesses of other trades that searches bring along: about one in twenty-five rows."""
    rows = []
    for index in range(start // 25):
        trade, category, noun = STRANGER_KINDS[index % len(STRANGER_KINDS)]
        town = rng.choice(TOWNS)
        rows.append({
            "id": f"S{index:06d}", "_business": None, "_term": trade, "name": f"{rng.choice(LAST)} {noun}", "category": category,
            "location": {
                "lat": round(town.lat + rng.gauss(0, town.radius_km * 0.3) / 111, 6), "lon": round(town.lon - abs(rng.gauss(0, town.radius_km * 0.3)) / 88.6, 6),
                "street": f"{rng.randint(1, 99)} {rng.choice(STREETS)} Street", "town": town.name, "postcode": town.postcode,
            },
            "phone": "", "website": "", "rating": 4.0, "review_count": rng.randint(0, 60), "claimed": False, "photo_count": 1, "staff": "",
            "price_level": None, "hours": None, "permanently_closed": False, "prominence": round(rng.random() * 20, 4),
        })  # fmt: skip
    return rows
