"""Which businesses are branches of a chain: by a site and a name they share, or by a brand that everybody knows."""

import gzip
from collections import defaultdict
from collections.abc import Mapping
from functools import cache
from importlib import resources
from typing import Any

from openacorn.core.match.normalise import name_tokens, own_domain, trade_words
from openacorn.core.trades.catalogue import Catalogue
from openacorn.core.trades.trade import UnknownTrade, normal_words

BRANDS = "brands.tsv.gz"
"""Brand, map tag, countries: the open brand-name list (name-suggestion-index, BSD-3; tools/extract_data.py)."""

CHAIN_AT = 2
"""So many places under one name and one site are a chain."""

EVERYWHERE = "001"
"""The world in the UN's M49 codes, which the brand list uses."""


@cache
def _brands() -> dict[tuple[tuple[str, ...], str], tuple[str, frozenset[str]]]:
    """(words of the name, map tag) → (brand, countries)."""
    packed = resources.files("openacorn").joinpath("data", BRANDS).read_bytes()
    found: dict[tuple[tuple[str, ...], str], tuple[str, frozenset[str]]] = {}
    for line in gzip.decompress(packed).decode("utf-8").splitlines():
        name, tag, countries = line.split("\t")
        where = frozenset(countries.split(";"))
        key = (tuple(normal_words(name)), tag)
        known = found.get(key)
        found[key] = (name, where | (known[1] if known else frozenset()))
    return found


def brand_of(name: str, town: str, tags: tuple[str, ...], region: str | None) -> str:
    """The brand whose name the business bears, "" if none: in its own line of trade, and at home in the country.

    The whole name must be the brand's, apart from the town that distinguishes branches ("Specs & Co – Gannet Bay").
    """
    words = tuple(normal_words(name))
    place = tuple(normal_words(town))
    forms = {words}
    if place and words[-len(place) :] == place:
        forms.add(words[: -len(place)])
    for tag in tags:
        for form in filter(None, forms):
            brand, countries = _brands().get((form, tag), ("", frozenset[str]()))
            if brand and (region is None or countries & {EVERYWHERE, region.lower()}):
                return brand
    return ""


def _tags(trade_id: str, trades: Catalogue) -> tuple[str, ...]:
    try:
        return trades.of(trade_id).tags
    except UnknownTrade:
        return ()


def chains(rows: Mapping[int, Mapping[str, Any]], trades: Catalogue, region: str | None = None) -> dict[int, str]:
    """Business id → name of its chain. rows: id → {name, town, trade, website}; region: ISO 3166 code of the agency.

    A chain is two places and more that share a site of their own and the telling words of their names; or a brand of
    the open brand-name list, even where only one branch is held.
    """
    families: dict[tuple[str, frozenset[str]], list[int]] = defaultdict(list)
    found: dict[int, str] = {}
    for business_id, row in rows.items():
        name, town = str(row["name"]), str(row["town"])
        domain = own_domain(str(row["website"]))
        telling = name_tokens(name) - trade_words(trades) - name_tokens(town)
        if domain and telling:
            families[(domain, telling)].append(business_id)
        if brand := brand_of(name, town, _tags(str(row["trade"]), trades), region):
            found[business_id] = brand
    for members in families.values():
        if len(members) >= CHAIN_AT:
            name = min((str(rows[member]["name"]) for member in members), key=lambda answer: (len(answer), answer))
            found |= {member: found.get(member) or name for member in members}
    return found
