"""Places in the picture of a site on a phone."""

from dataclasses import dataclass
from enum import StrEnum

PHONE_PX = (390, 844)
"""A phone's screen held upright, in CSS pixels; the pictures are of one point each."""


class SpotKind(StrEnum):
    """What can be pointed at in a picture of a page on a phone."""

    OUTSIDE = "outside"
    SMALL = "small"
    PHONE = "phone"


@dataclass(frozen=True, slots=True)
class Spot:
    """A place in the phone's picture, in its points from the upper left: what sticks out on the right, text too small to read, a
    number that cannot be tapped. text: what stands there."""

    kind: SpotKind
    x: int
    y: int
    width: int
    height: int
    text: str = ""
