"""Which tags a site's own scripts carry."""

from openacorn.core.audit.address import host_of
from openacorn.core.audit.evidence import PageFacts
from openacorn.core.audit.extract.parties import sort_loaded
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.extract.tags import find_tags

CARRIED = frozenset(
    {
        TagKind.ANALYTICS, TagKind.RETIRED, TagKind.ADS, TagKind.RECORDING, TagKind.MANAGER, TagKind.CONSENT, TagKind.LOADER,
        TagKind.CONVERSION, TagKind.CHAT,
    }
)  # fmt: skip
"""What a bundle brings in; of platforms, forms and bookings it holds mere words."""


def read_script(text: str, url: str, at: str) -> PageFacts:
    """Return the tags that one of the site's own scripts brings in, under its own address."""
    hits = tuple(hit for hit in find_tags([text]) if hit.kind in CARRIED)
    loaded = sort_loaded(host_of(url), [], [], [text])
    return PageFacts(url, at, tags=hits, strangers=loaded.strangers)
