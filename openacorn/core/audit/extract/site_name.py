"""What a site calls its owner."""

import re

from rapidfuzz import fuzz

from openacorn.core.audit.address import host_of
from openacorn.core.audit.hosts import registrable_domain

SEPARATORS = re.compile(r"\s+[|–—·•:»-]+\s+|\s*[|»]\s*")
ALIKE = 70.0
"""Similarity (0–100) of a title's part with the host's name, run together, at which the part names the owner."""

DULL = frozenset({"home", "welcome", "index", "homepage", "start", "untitled"})


def _run_together(text: str) -> str:
    return re.sub(r"[^a-z0-9]", "", text.lower())


def site_name(stated: str | None, title: str | None, url: str) -> str:
    """The owner's name: what the page declares (og:site_name), else the part of the title that is like the host's name.

    "" where neither says it: a slogan must not become a business's name.
    """
    if stated and stated.strip():
        return " ".join(stated.split())[:120]
    host = host_of(url)
    label = _run_together((registrable_domain(host) or host).partition(".")[0])
    parts = [" ".join(part.split()) for part in SEPARATORS.split(title or "")]
    rated = [(fuzz.partial_ratio(_run_together(part), label), part) for part in parts if len(_run_together(part)) > 2]
    rated = [(rate, part) for rate, part in rated if part.lower() not in DULL]
    best = max(rated, default=(0.0, ""), key=lambda item: item[0])
    return best[1][:120] if best[0] >= ALIKE else ""
