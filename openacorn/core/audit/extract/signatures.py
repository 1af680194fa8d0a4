"""Known scripts and pixels: what their loaders look like in a page's source.

The table is `vendors/signatures.tsv`: vendor, kind, pattern, pattern of account ids, source. Its patterns come from the vendors'
own loader snippets, as rendered by general-purpose integration libraries (see tests/core/audit/test_tags.py, which runs against
them), or are marked "own knowledge". They are matched against script addresses, inline scripts and image or frame addresses only:
a name in the text, a comment or a `preconnect` is not a tag. Syntax: RE2 (no look-around). `ids` is run only where a pattern hit.
"""

from dataclasses import dataclass
from enum import StrEnum

from openacorn.core.audit import vendors
from openacorn.core.audit.tables import rows_of


class TagKind(StrEnum):
    """What a tag is for; `MANAGER`, `CONSENT` and `LOADER` can bring in others that the source does not show."""

    ANALYTICS = "analytics"
    RETIRED = "retired analytics"
    ADS = "advertising"
    RECORDING = "session recording"
    MANAGER = "tag manager"
    CONSENT = "consent tool"
    LOADER = "tag loader"
    PUBLISHER = "publisher advertising"
    CONVERSION = "conversion tracking"
    CHAT = "chat"
    BOOKING = "booking"
    FORM = "form"
    PLATFORM = "platform"
    NETWORK = "advertising network"
    MARKETING = "marketing service"
    SUPPORT = "customer service"


@dataclass(frozen=True, slots=True)
class Signature:
    """One vendor's loader."""

    vendor: str
    kind: TagKind
    pattern: str
    ids: str = ""


def _table() -> tuple[Signature, ...]:
    rows = rows_of(vendors, "signatures.tsv")
    return tuple(Signature(row["vendor"], TagKind(row["kind"]), row["pattern"], row["ids"]) for row in rows)


SIGNATURES = _table()
