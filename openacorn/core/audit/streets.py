"""A listed street in a page's text, however either of them abbreviates."""

import re

KINDS = {
    "st": "street", "rd": "road", "ave": "avenue", "av": "avenue", "ln": "lane", "dr": "drive", "pde": "parade", "tce": "terrace",
    "hwy": "highway", "cres": "crescent", "ct": "court", "pl": "place", "sq": "square", "blvd": "boulevard", "cl": "close",
    "esp": "esplanade",
}  # fmt: skip
"""Abbreviations of street kinds (Australia Post's and common practice)."""

_WORDS = re.compile(r"[\w'’/-]+")


def _plain(text: str) -> list[str]:
    return [KINDS.get(word, word) for word in (found.group(0).lower() for found in _WORDS.finditer(text))]


def street_in(street: str, text: str) -> str:
    """The listed number and street as the text has them, "" if it does not; a unit before the number may be left out."""
    wanted = _plain(street.split(",")[0])
    while wanted and not wanted[0][0].isdigit():
        wanted = wanted[1:]
    if len(wanted) < 2:
        return ""
    if wanted[0] not in text.lower():
        return ""  # most pages do not even hold the number
    words = _plain(text)
    wide = len(wanted)
    for at in range(len(words) - wide + 1):
        if words[at : at + wide] == wanted:
            return " ".join(wanted)
    return ""
