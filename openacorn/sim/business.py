"""A true business of the coast: what every source tells of, each in its own way."""

from dataclasses import dataclass


@dataclass(slots=True)
class Business:
    """One true business. `website` is what its listings give ("" if none); `site` the host it is about, if it has one."""

    id: int
    name: str
    trade: str
    town: str
    postcode: str
    street: str
    lat: float
    lon: float
    phone: str
    owner: str
    website: str
    host: str
    archetype: str
    reviews: int
    rating: float
    staff: str
    price: int
    closed: bool
    wrong_site: bool = False
    chain: str = ""
