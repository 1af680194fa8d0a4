"""A business's name as the domain it might have."""

import re

from openacorn.core.match.normalise import LEGAL, plain

MAX_LABEL = 40
"""Longer ones nobody types; RFC 1035 allows 63."""


def _ascii(text: str) -> str:
    return plain(text).encode("ascii", "ignore").decode()


def name_labels(name: str, town: str) -> list[str]:
    """Labels, the likeliest first: the name run together, without "and", with hyphens, with the town. "Gull & Kelp" →
    gullandkelp, gullkelp, gull-and-kelp, gullandkelpportellery."""
    words = [
        word
        for word in re.findall(r"[a-z0-9]+", re.sub(r"['’]", "", _ascii(name)))
        if word not in LEGAL - {"and", "the"}
    ]
    short = [word for word in words if word not in {"and", "the"}]
    place = "".join(re.findall(r"[a-z0-9]+", _ascii(town)))
    forms = ["".join(words), "".join(short), "-".join(words)]
    if place and place not in forms[0]:
        forms.append("".join(words) + place)
    return [form for form in dict.fromkeys(forms) if short and 2 < len(form) <= MAX_LABEL]


def name_domains(name: str, town: str, endings: tuple[str, ...]) -> list[str]:
    """Domains to try: each label with each ending, labels first."""
    return [f"{label}.{ending}" for label in name_labels(name, town) for ending in endings]
