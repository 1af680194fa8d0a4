"""What a source is: questions to requests, replies to listings. A source never fetches."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cache

import openacorn.sources as sources
from openacorn.core.listing import Listing
from openacorn.core.planning import Query
from openacorn.core.plugins import scan


class SourceFailure(Exception):
    """A source could not be read. `remedy` says what the user can do."""

    def __init__(self, why: str, remedy: str) -> None:
        super().__init__(why)
        self.remedy = remedy


@dataclass(frozen=True, slots=True)
class Endpoint:
    """Where and how this installation reaches a source; empty `url`: not set up."""

    url: str
    key: str
    pace_s: float


@dataclass(frozen=True, slots=True)
class Request:
    """An HTTP GET to be made; `pace_s`: least seconds after the last request to the same host."""

    url: str
    params: Mapping[str, str]
    headers: Mapping[str, str] = field(default_factory=dict)
    pace_s: float = 0.0


@dataclass(frozen=True, slots=True)
class Reading:
    """One reply read: its listings, whether the same question has another page, and rows that could not be read."""

    listings: tuple[Listing, ...]
    more: bool
    unreadable: int = 0


@dataclass(frozen=True, slots=True)
class Source:
    """Somewhere listings come from. cap: most rows one question gives over all its pages."""

    id: str
    title: str
    cap: int
    page_size: int
    ask: Callable[[Query, Endpoint], Request]
    read: Callable[[Query, bytes], Reading]


@cache
def all_sources() -> dict[str, Source]:
    """Source id → source, found by scan."""
    return {source.id: source for source in scan(sources, "SOURCE", Source)}
