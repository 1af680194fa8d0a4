"""Which known scripts and pixels a page's source carries."""

import re
from collections.abc import Iterable
from functools import cache
from typing import Any

import re2

from openacorn.core.audit.evidence import TagHit
from openacorn.core.audit.extract.signatures import SIGNATURES, TagKind

SNIPPET_CHARS = 120
MATCHER_BYTES = 64 << 20
"""Room for the matcher's states: in the library's usual 8 MB it forgets and builds them again, a hundred times as slow."""

_SPACE = re.compile(r"\s+")


@cache
def _matcher() -> re2.Set:
    """All signatures at once. One alternation would be slower and lose overlapping hits; a set reports every one."""
    options = re2.Options()
    options.max_mem = MATCHER_BYTES
    matcher = re2.Set.SearchSet(options)
    for signature in SIGNATURES:
        matcher.Add(signature.pattern)
    matcher.Compile()
    return matcher


LINKED = frozenset({TagKind.BOOKING})
"""Kinds that a mere link to the vendor shows; of other vendors a link says nothing."""


def find_tags(sources: Iterable[str], links: Iterable[str] = ()) -> tuple[TagHit, ...]:
    """Return the tags in `sources`: script, style, image and frame addresses, and texts of inline scripts; in `links` only
    what is booked elsewhere.

    One hit a vendor and kind, in the order of the signature table, with every account id that was seen.
    """
    hits = _hits("\n".join(sources))
    linked = [
        hit for hit in _hits("\n".join(links)) if hit.kind in LINKED and hit.vendor not in {h.vendor for h in hits}
    ]
    return (*hits, *linked)


@cache
def _compiled(pattern: str) -> Any:
    return re2.compile(pattern)


def _hits(haystack: str) -> list[TagHit]:
    hits = []
    for index in sorted(_matcher().Match(haystack) or ()):
        signature = SIGNATURES[index]
        where = _compiled(signature.pattern).search(haystack)
        start = max(0, where.start() - 20) if where else 0
        snippet = _SPACE.sub(" ", haystack[start : start + SNIPPET_CHARS]).strip()
        ids = tuple(dict.fromkeys(_compiled(signature.ids).findall(haystack))) if signature.ids else ()
        hits.append(TagHit(signature.vendor, signature.kind, snippet, ids))
    return hits
