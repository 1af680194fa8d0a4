"""The opening line of an angle with a business's own words in it, and what angle to begin with."""

from collections.abc import Iterable

from openacorn.core.desk.angle import Angle


def filled(line: str, *, name: str, town: str, trade: str) -> str:
    """A line with {name}, {town} and {trade} put in; other text in braces stays as it is."""
    for word, value in (("{name}", name), ("{town}", town or "your town"), ("{trade}", trade.lower())):
        line = line.replace(word, value)
    return line


def best_angle(angles: Iterable[Angle], service: str) -> Angle | None:
    """Of the angles that hold for a business and sell the service the one to begin with: the narrowest, as it says most."""
    fitting = (angle for angle in angles if angle.service == service)
    return min(fitting, key=lambda angle: (-len(angle.filter), angle.name), default=None)
