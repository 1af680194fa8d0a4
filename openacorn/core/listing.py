"""What one source said about one place, in one shape for all sources."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Listing:
    """A listing as received, cleaned only of markup. Phones as written; `raw_hash` tells whether it changed.

    rank: 1-based place in the answer it came in. status: "open", "closed" or "unknown".
    """

    source: str
    source_id: str
    name: str
    category: str = ""
    lat: float | None = None
    lon: float | None = None
    street: str = ""
    town: str = ""
    postcode: str = ""
    phone: str = ""
    website: str = ""
    rating: float | None = None
    reviews: int | None = None
    claimed: bool | None = None
    photos: int | None = None
    staff_band: str = ""
    price_band: int | None = None
    hours: str = ""
    status: str = "unknown"
    email: str = ""
    rank: int | None = None
