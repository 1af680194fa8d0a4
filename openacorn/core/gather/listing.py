"""What one source said about one place, in one shape for all sources."""

from collections.abc import Mapping
from dataclasses import dataclass, field


@dataclass(frozen=True, slots=True)
class Listing:
    """A listing as received, cleaned only of markup. Phones as written; `raw_hash` tells whether it changed.

    rank: 1-based place in the answer it came in. status: "open", "closed" or "unknown".
    extra: facts that only this source tells, under its own names.
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
    extra: Mapping[str, str | int | float | bool] = field(default_factory=dict)
    rank: int | None = None

    @property
    def printed_id(self) -> str:
        """What a listing is known by whose source shows no id: what it prints, name and place."""
        return f"{self.name.lower()} | {self.street.lower()} {self.postcode}"


def officers_of(text: str) -> list[tuple[str, str]]:
    """(name, role) of each officer out of what a listing's `officers` fact says."""
    parts = (part.partition(",") for part in text.split(";"))
    return [(name.strip(), role.strip()) for name, _, role in parts if name.strip()]
