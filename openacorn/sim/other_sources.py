"""What the map, the directory and the social network know of the coast: each its own part, each in its own hand."""

import random
from typing import Any

from openacorn.sim.business import Business
from openacorn.sim.listings import street_variant, variant
from openacorn.sim.names import TRADE_NOUNS, national, slug

MAP_REACH, DIRECTORY_REACH, SOCIAL_REACH = 0.55, 0.68, 0.42
TAGS: dict[str, tuple[tuple[str, str], ...]] = {
    "vets": (("amenity", "veterinary"),), "florists": (("shop", "florist"),),
    "opticians": (("shop", "optician"), ("healthcare", "optometrist")), "locksmiths": (("shop", "locksmith"), ("craft", "key_cutter")),
    "bicycle-shops": (("shop", "bicycle"),), "driving-schools": (("amenity", "driving_school"),),
    "dry-cleaners": (("shop", "dry_cleaning"), ("shop", "laundry")), "upholsterers": (("craft", "upholsterer"),),
    "tree-surgeons": (("craft", "arborist"),), "boatyards": (("waterway", "boatyard"), ("craft", "boatbuilder")),
    "photographers": (("craft", "photographer"), ("shop", "photo")), "physiotherapists": (("healthcare", "physiotherapist"),),
}  # fmt: skip


def _near(business: Business, rng: random.Random, metres: float) -> tuple[float, float]:
    return (
        round(business.lat + rng.gauss(0, metres) / 111_000, 7),
        round(business.lon + rng.gauss(0, metres) / 88_600, 7),
    )


def map_element(business: Business, rng: random.Random) -> dict[str, Any] | None:
    """The business on the open map, if a volunteer drew it: a node, or a way with its middle."""
    if rng.random() >= MAP_REACH or business.closed:
        return None
    key, value = rng.choice(TAGS[business.trade])
    tags = {key: value, "name": variant(business.name, rng, entities=False) if rng.random() < 0.2 else business.name}
    number, _, street = business.street.partition(" ")
    if rng.random() < 0.75:
        tags |= {"addr:housenumber": number, "addr:street": street}
    if rng.random() < 0.6:
        tags |= {"addr:city": business.town, "addr:postcode": business.postcode}
    if rng.random() < 0.55:
        tags[rng.choice(("phone", "phone", "contact:phone"))] = national(business.phone, 2)
    if business.website and rng.random() < 0.5:
        tags[rng.choice(("website", "website", "contact:website"))] = business.website
    if rng.random() < 0.4:
        tags["opening_hours"] = "Mo-Fr 09:00-17:30; Sa 09:00-12:00"
    lat, lon = _near(business, rng, 9)
    serial = 70_000_000 + business.id * 13
    if rng.random() < 0.3:
        return {
            "type": "way",
            "id": serial,
            "center": {"lat": lat, "lon": lon},
            "nodes": [serial + 1, serial + 2],
            "tags": tags,
            "_business": business.id,
        }
    return {"type": "node", "id": serial, "lat": lat, "lon": lon, "tags": tags, "_business": business.id}


def directory_row(business: Business, rng: random.Random) -> dict[str, Any] | None:
    """The business in the printed-style directory: addresses and phones are good, there are no pins."""
    if rng.random() >= DIRECTORY_REACH:
        return None
    trading = f"{business.owner.split()[-1]} {rng.choice(TRADE_NOUNS[business.trade])}"
    name = (
        trading
        if rng.random() < 0.01
        else variant(business.name, rng, entities=False)
        if rng.random() < 0.3
        else business.name
    )
    return {
        "_business": business.id, "trade": business.trade, "name": name, "street": street_variant(business.street, rng),
        "town": business.town, "postcode": business.postcode, "phone": national(business.phone, rng.randrange(4)) if rng.random() < 0.93 else "",
        "website": business.website if rng.random() < 0.6 else "",
        "email": f"{slug(business.name)[:18]}@{business.host}" if business.host and rng.random() < 0.25 else "",
    }  # fmt: skip


def social_page(business: Business, rng: random.Random) -> dict[str, Any] | None:
    """The business's page on a social network."""
    on_it = business.archetype == "social_only" or rng.random() < SOCIAL_REACH
    if not on_it:
        return None
    followers = int(rng.lognormvariate(5, 1.3))
    handle = slug(business.name)[:24]
    if business.chain:
        handle = f"{handle[:18]}{business.id}"
    return {
        "_business": business.id, "_trade": business.trade, "id": f"P{business.id:06d}", "name": business.name,
        "url": f"https://www.facebook.com/{handle}", "city": business.town, "phone": national(business.phone, 1) if rng.random() < 0.7 else None,
        "website": business.website if business.host and rng.random() < 0.7 else None,
        "email": f"{handle[:18]}@{business.host}" if business.host and rng.random() < 0.3 else None,
        "street": business.street if rng.random() < 0.75 else None, "zip": business.postcode,
        "followers": followers, "last_post": f"2026-{rng.randint(1, 8):02d}-{rng.randint(1, 28):02d}", "ads_running": rng.random() < 0.12,
        "created": f"{rng.randint(2010, 2025)}-{rng.randint(1, 12):02d}-01", "messages": rng.random() < 0.8,
    }  # fmt: skip
