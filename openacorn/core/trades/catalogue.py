"""The trades that ship with the product. Map tags as in the open map's tagging guide (wiki.openstreetmap.org/wiki/Map_features)."""

from collections.abc import Iterable

from openacorn.core.trades.trade import Trade, UnknownTrade

TRADES: tuple[Trade, ...] = (
    Trade(
        "vets", "Vet", "Vets", ("veterinarian", "veterinary", "animal hospital", "animal clinic"),
        1.3, (("amenity", "veterinary"),),
    ),
    Trade(
        "florists", "Florist", "Florists", ("flower shop", "flower delivery", "floral studio"),
        1.2, (("shop", "florist"),),
    ),
    Trade(
        "opticians", "Optician", "Opticians", ("optometrist", "optometry", "eyewear", "eye care", "optical"),
        1.1, (("shop", "optician"), ("healthcare", "optometrist")),
    ),
    Trade(
        "locksmiths", "Locksmith", "Locksmiths", ("key cutting", "lock service", "key service"),
        0.8, (("shop", "locksmith"), ("craft", "key_cutter")),
    ),
    Trade(
        "bicycle-shops", "Bicycle shop", "Bicycle shops", ("bike shop", "cycle shop", "bicycle store", "bicycle repair"),
        0.7, (("shop", "bicycle"),),
    ),
    Trade(
        "driving-schools", "Driving school", "Driving schools", ("driving lesson", "driving instructor", "driver training"),
        0.8, (("amenity", "driving_school"),),
    ),
    Trade(
        "dry-cleaners", "Dry cleaner", "Dry cleaners", ("dry cleaning", "laundry service", "garment care"),
        0.9, (("shop", "dry_cleaning"), ("shop", "laundry")),
    ),
    Trade(
        "upholsterers", "Upholsterer", "Upholsterers", ("upholstery", "furniture repair", "re-upholstery"),
        0.5, (("craft", "upholsterer"),),
    ),
    Trade(
        "tree-surgeons", "Tree surgeon", "Tree surgeons", ("arborist", "tree service", "tree care", "tree lopping"),
        1.0, (("craft", "arborist"),),
    ),
    Trade(
        "boatyards", "Boatyard", "Boatyards", ("boat builder", "boat repair", "marine service", "shipwright"),
        0.3, (("waterway", "boatyard"), ("craft", "boatbuilder")),
    ),
    Trade(
        "photographers", "Photographer", "Photographers", ("photography", "photo studio", "portrait studio"),
        1.6, (("craft", "photographer"), ("shop", "photo")),
    ),
    Trade(
        "physiotherapists", "Physiotherapist", "Physiotherapists", ("physiotherapy", "physical therapist", "physio"),
        1.8, (("healthcare", "physiotherapist"),),
    ),
)  # fmt: skip
_BY_ID = {trade.id: trade for trade in TRADES}


def trade_of(trade_id: str) -> Trade:
    """Return the trade, or raise UnknownTrade naming the ones there are."""
    trade = _BY_ID.get(trade_id)
    if trade is None:
        raise UnknownTrade(f"there is no trade {trade_id!r}; choose from {', '.join(_BY_ID)}")
    return trade


def checked_trades(ids: Iterable[str]) -> tuple[Trade, ...]:
    """Return the trades, each once, in the order asked for. Raises UnknownTrade for an empty list too."""
    trades = tuple(trade_of(trade_id) for trade_id in dict.fromkeys(ids))
    if not trades:
        raise UnknownTrade("choose at least one trade")
    return trades
