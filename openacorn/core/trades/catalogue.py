"""The trades that ship with the product. Map tags as in the open map's tagging guide (wiki.openstreetmap.org/wiki/Map_features)."""

from collections.abc import Iterable
from dataclasses import replace
from functools import cached_property, lru_cache
from importlib import resources

from openacorn.core.trades.trade import Trade, UnknownTrade, naming_words, normal_words

OWN: tuple[Trade, ...] = (
    Trade(
        "vets", "Vet", "Vets", ("veterinarian", "veterinary", "animal hospital", "animal clinic"),
        1.3, ("amenity=veterinary",),
    ),
    Trade(
        "florists", "Florist", "Florists", ("flower shop", "flower delivery", "floral studio"),
        1.2, ("shop=florist",), terms=("flowers", "blooms", "bouquets", "floral"),
    ),
    Trade(
        "opticians", "Optician", "Opticians", ("optometrist", "optometry", "eyewear", "eye care", "optical"),
        1.1, ("shop=optician", "healthcare=optometrist"),
    ),
    Trade(
        "locksmiths", "Locksmith", "Locksmiths", ("key cutting", "lock service", "key service"),
        0.8, ("shop=locksmith", "craft=key_cutter"), terms=("locks", "keys"),
    ),
    Trade(
        "bicycle-shops", "Bicycle shop", "Bicycle shops", ("bike shop", "cycle shop", "bicycle store", "bicycle repair"),
        0.7, ("shop=bicycle",), terms=("bikes", "cycles"),
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

OWN_PREFIX = "own/"
"""Begins the ids of trades that the user made."""

PRESETS, CODES = "presets.tsv", "codes.tsv"

UNKNOWN_RATE = 1.0
"""Businesses per 10,000 residents of a trade of which nothing is known: the right power of ten (from memory)."""


def _lines(name: str) -> list[list[str]]:
    text = resources.files(__package__).joinpath(name).read_text(encoding="utf-8")
    return [line.split("\t") for line in text.splitlines()]


def _presets() -> list[Trade]:
    """The open map's tagging presets for local businesses (@openstreetmap/id-tagging-schema, ISC; tools/extract_data.py)."""
    own = {tag: trade.id for trade in OWN for tag in trade.tags}
    found = []
    for preset, label, plural, parent, words, terms, tags in _lines(PRESETS):
        joined = "+".join(tags.split(";"))
        if joined in own:
            continue  # there is one of our own for it
        up = own.get(parent.replace("/", "=", 1), parent)
        answer, more = (tuple(filter(None, text.split(";"))) for text in (words, terms))
        found.append(Trade(preset, label, plural, answer, UNKNOWN_RATE, (joined,), up, more))
    return found


def _coded(trades: Iterable[Trade]) -> tuple[Trade, ...]:
    """The trades with their industry codes (NAICS 2022, by hand); a narrower trade has those of its wider one."""
    codes: dict[str, tuple[str, ...]] = {}
    for trade_id, code, _title in _lines(CODES):
        codes[trade_id] = (*codes.get(trade_id, ()), code)
    return tuple(replace(trade, codes=codes.get(trade.id) or codes.get(trade.parent, ())) for trade in trades)


SHIPPED: tuple[Trade, ...] = _coded((*OWN, *_presets()))
_SHIPPED_BY_ID = {trade.id: trade for trade in SHIPPED}


class Catalogue:
    """The trades there are: those that ship with the product, and the user's own. Found by id and by the words that name them."""

    def __init__(self, own: tuple[Trade, ...]) -> None:
        self.own = own
        self.trades = (*SHIPPED, *own)
        """Every trade, ours with words and rates first, the user's last."""
        self._by_id = _SHIPPED_BY_ID | {trade.id: trade for trade in own}
        self._order = {trade.id: place for place, trade in enumerate(self.trades)}
        # first word (by alphabet) of each naming phrase → the phrase's words and its trade
        self._index: dict[str, list[tuple[frozenset[str], Trade]]] = {}
        for trade in self.trades:
            for words in filter(None, naming_words(trade)):
                self._index.setdefault(min(words), []).append((words, trade))
        self.named = lru_cache(maxsize=65536)(self._named)
        """Text → the trades that a category or a name names: the most exact one (by the most words) first, then in our order."""

    def _named(self, text: str) -> tuple[Trade, ...]:
        have = set(normal_words(text))
        fits: dict[str, int] = {}
        for word in have:
            for words, trade in self._index.get(word, ()):
                if words <= have:
                    fits[trade.id] = max(fits.get(trade.id, 0), len(words))
        return tuple(sorted((self._by_id[name] for name in fits), key=lambda t: (-fits[t.id], self._order[t.id])))

    @cached_property
    def words(self) -> frozenset[str]:
        """Words that name a trade, in the singular."""
        phrases = (text for trade in self.trades for text in (trade.label, trade.plural, *trade.words))
        return frozenset(word for text in phrases for word in normal_words(text))

    def of(self, trade_id: str) -> Trade:
        """Return the trade. Raises UnknownTrade."""
        trade = self._by_id.get(trade_id)
        if trade is None:
            raise UnknownTrade(f"there is no trade {trade_id!r}; choose one from the list of trades")
        return trade

    def checked(self, ids: Iterable[str]) -> tuple[Trade, ...]:
        """Return the trades, each once, in the order asked for. Raises UnknownTrade, for an empty list too."""
        trades = tuple(self.of(trade_id) for trade_id in dict.fromkeys(ids))
        if not trades:
            raise UnknownTrade("choose at least one trade")
        return trades


@lru_cache(maxsize=16)
def catalogue(own: tuple[Trade, ...] = ()) -> Catalogue:
    """The shipped trades with the user's `own`; made once for the same ones, since it takes some milliseconds."""
    return Catalogue(own)


def is_trade(text: str) -> bool:
    """Is this the id of a trade, as against the words of a category?"""
    return text in _SHIPPED_BY_ID or text.startswith(OWN_PREFIX)


def made_trade(label: str, plural: str, words: Iterable[str], parent: str, taken: Iterable[str]) -> Trade:
    """A trade of the user's own under a wider one (or none), with its tags and codes. Raises UnknownTrade if it cannot be."""
    label = " ".join(label.split())
    stem = "-".join(normal_words(label))
    if not stem:
        raise UnknownTrade("give the trade a name")
    trade_id = OWN_PREFIX + stem
    if trade_id in set(taken) or any(trade.label.lower() == label.lower() for trade in SHIPPED):
        raise UnknownTrade(f"there is a trade called {label!r} already")
    wider = catalogue().of(parent) if parent else None
    answer = tuple(dict.fromkeys(" ".join(word.split()).lower() for word in words if word.strip()))
    return Trade(
        trade_id, label, " ".join(plural.split()) or label + "s", answer, wider.per_10k if wider else UNKNOWN_RATE,
        wider.tags if wider else (), parent, (), wider.codes if wider else (),
    )  # fmt: skip
