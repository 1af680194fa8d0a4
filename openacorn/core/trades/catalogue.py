"""The trades that ship with the product. Map tags as in the open map's tagging guide (wiki.openstreetmap.org/wiki/Map_features)."""

from collections.abc import Iterable
from functools import lru_cache
from importlib import resources

from openacorn.core.trades.trade import Trade, UnknownTrade, naming_words, normal_words

OWN: tuple[Trade, ...] = (
    Trade(
        "vets", "Vet", "Vets", ("veterinarian", "veterinary", "animal hospital", "animal clinic"),
        1.3, ("amenity=veterinary",),
    ),
    Trade(
        "florists", "Florist", "Florists", ("flower shop", "flower delivery", "floral studio"),
        1.2, ("shop=florist",),
    ),
    Trade(
        "opticians", "Optician", "Opticians", ("optometrist", "optometry", "eyewear", "eye care", "optical"),
        1.1, ("shop=optician", "healthcare=optometrist"),
    ),
    Trade(
        "locksmiths", "Locksmith", "Locksmiths", ("key cutting", "lock service", "key service"),
        0.8, ("shop=locksmith", "craft=key_cutter"),
    ),
    Trade(
        "bicycle-shops", "Bicycle shop", "Bicycle shops", ("bike shop", "cycle shop", "bicycle store", "bicycle repair"),
        0.7, ("shop=bicycle",),
    ),
    Trade(
        "driving-schools", "Driving school", "Driving schools", ("driving lesson", "driving instructor", "driver training"),
        0.8, ("amenity=driving_school",),
    ),
    Trade(
        "dry-cleaners", "Dry cleaner", "Dry cleaners", ("dry cleaning", "laundry service", "garment care"),
        0.9, ("shop=dry_cleaning", "shop=laundry"),
    ),
    Trade(
        "upholsterers", "Upholsterer", "Upholsterers", ("upholstery", "furniture repair", "re-upholstery"),
        0.5, ("craft=upholsterer",),
    ),
    Trade(
        "tree-surgeons", "Tree surgeon", "Tree surgeons", ("arborist", "tree service", "tree care", "tree lopping"),
        1.0, ("craft=arborist",),
    ),
    Trade(
        "boatyards", "Boatyard", "Boatyards", ("boat builder", "boat repair", "marine service", "shipwright"),
        0.3, ("waterway=boatyard", "craft=boatbuilder"),
    ),
    Trade(
        "photographers", "Photographer", "Photographers", ("photography", "photo studio", "portrait studio"),
        1.6, ("craft=photographer", "shop=photo"),
    ),
    Trade(
        "physiotherapists", "Physiotherapist", "Physiotherapists", ("physiotherapy", "physical therapist", "physio"),
        1.8, ("healthcare=physiotherapist",),
    ),
)  # fmt: skip
"""Trades with words, rates and tags of our own; the presets below give the rest of the tree."""

PRESETS = "presets.tsv"


def _presets() -> list[Trade]:
    """The open map's tagging presets for local businesses (@openstreetmap/id-tagging-schema, ISC; tools/extract_data.py)."""
    lines = resources.files(__package__).joinpath(PRESETS).read_text(encoding="utf-8").splitlines()
    own = {tag: trade.id for trade in OWN for tag in trade.tags}
    found = []
    for line in lines:
        preset, label, plural, parent, words, terms, tags = line.split("\t")
        joined = "+".join(tags.split(";"))
        if joined in own:
            continue  # there is one of our own for it
        up = own.get(parent.replace("/", "=", 1), parent)
        found.append(
            Trade(
                preset,
                label,
                plural,
                tuple(filter(None, words.split(";"))),
                UNKNOWN_RATE,
                (joined,),
                up,
                tuple(filter(None, terms.split(";"))),
            )
        )
    return found


UNKNOWN_RATE = 1.0
"""Businesses per 10,000 residents of a trade of which nothing is known: the right power of ten (from memory)."""

TRADES: tuple[Trade, ...] = (*OWN, *_presets())
_BY_ID = {trade.id: trade for trade in TRADES}


def _index() -> dict[str, list[tuple[frozenset[str], Trade]]]:
    """First word (by alphabet) of each naming phrase → the phrase's words and its trade."""
    found: dict[str, list[tuple[frozenset[str], Trade]]] = {}
    for trade in TRADES:
        for words in naming_words(trade):
            if words:
                found.setdefault(min(words), []).append((words, trade))
    return found


_INDEX = _index()


@lru_cache(maxsize=65536)
def trades_named(text: str) -> tuple[Trade, ...]:
    """Trades that a category or a name names, the most exact one (by the most words) first, our own before the presets."""
    have = set(normal_words(text))
    fits: dict[str, int] = {}
    for word in have:
        for words, trade in _INDEX.get(word, ()):
            if words <= have:
                fits[trade.id] = max(fits.get(trade.id, 0), len(words))
    return tuple(sorted((_BY_ID[name] for name in fits), key=lambda trade: (-fits[trade.id], _ORDER[trade.id])))


_ORDER = {trade.id: place for place, trade in enumerate(TRADES)}


def trade_of(trade_id: str) -> Trade:
    """Return the trade, or raise UnknownTrade naming the ones there are."""
    trade = _BY_ID.get(trade_id)
    if trade is None:
        raise UnknownTrade(f"there is no trade {trade_id!r}; choose one from the list of trades")
    return trade


def checked_trades(ids: Iterable[str]) -> tuple[Trade, ...]:
    """Return the trades, each once, in the order asked for. Raises UnknownTrade for an empty list too."""
    trades = tuple(trade_of(trade_id) for trade_id in dict.fromkeys(ids))
    if not trades:
        raise UnknownTrade("choose at least one trade")
    return trades
