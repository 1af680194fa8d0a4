"""New listings into businesses: compare with their neighbours, merge, judge relevance."""

import sqlite3
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from openacorn.business.facts import choose_facts, in_order
from openacorn.business.store import audits, businesses, decisions, listings, own_trades, relationships
from openacorn.business.store.listings import StoredListing
from openacorn.clock import now
from openacorn.core.audit.extract.text import visible_text
from openacorn.core.geo.geodesy import Point, distance_m
from openacorn.core.match.cluster import cluster
from openacorn.core.match.normalise import block_keys
from openacorn.core.match.relationship import identifiers_of, relationship_among
from openacorn.core.match.relevance import reads_pages, rejected_by
from openacorn.core.trades.catalogue import Catalogue
from openacorn.core.trades.trade import names_trade
from openacorn.db.changes import next_change
from openacorn.gather.sources._source import joined_sources
from openacorn.match.records import ListingRecords
from openacorn.runs.store import sweeps
from openacorn.runs.store.sweeps import Plan
from openacorn.settings import Settings

OUTSIDE, CLOSED = "outside the territory", "permanently closed"


def trade_by_words(held: Sequence[StoredListing], name: str, trades: Catalogue) -> tuple[str, bool]:
    """Return (trade, is it really of that trade?): by category first, then by name, else what the search was for.

    Listings are taken in the order of their source and id, so that the answer does not depend on the order of arrival.
    """
    ordered = in_order(held)
    sought = min((item.trade for item in held if item.trade), default="")
    for item, category in [(item, item.listing.category) for item in ordered] + [(ordered[0], name)]:
        if category and item.trade and names_trade(trades.of(item.trade), category):
            return item.trade, True
        if category and (named := trades.named(category)):
            return named[0].id, True
    return sought, False


def newest_first(seen_by: Mapping[int, set[int]], members: Sequence[StoredListing]) -> list[int]:
    """The sweeps that saw one of some listings. seen_by: listing → sweeps."""
    return sorted(set[int]().union(*(seen_by.get(item.id, ()) for item in members)), reverse=True)


class RelevanceEvaluator:
    """Decides by the plans of the sweeps that saw a business whether it is kept in view; plans are read once."""

    def __init__(self, conn: sqlite3.Connection, settings: Settings) -> None:
        self._conn, self._settings = conn, settings
        self._plans: dict[int, Plan] = {}
        self._relationships = relationships.known_relationships(conn)
        self.trades = own_trades.trades_there(conn)
        self._today = now().date()

    def _plan(self, sweep_id: int) -> Plan:
        if sweep_id not in self._plans:
            self._plans[sweep_id] = sweeps.get_plan(self._conn, sweep_id)
        return self._plans[sweep_id]

    def rejected(self, row: Mapping[str, Any], trade: str, sure: bool, seen_by: Sequence[int], chain: str) -> str:
        """Why a business is left out, "" if one of the sweeps that saw it (newest first) wants it."""
        if row.get("status") == "closed":
            return CLOSED
        reasons = [self._by_plan(self._plan(sweep), row, trade, sure, chain) for sweep in seen_by]
        return "" if not reasons or "" in reasons else reasons[0]

    def _by_plan(self, plan: Plan, row: Mapping[str, Any], trade: str, sure: bool, chain: str) -> str:
        # where a source tells no category, and the name none either, it is taken at its word: it was asked for the trade
        if plan.trades and (trade not in plan.trades or (row.get("category") and not sure)):
            category = row.get("category") or (self.trades.of(trade).label.lower() if trade else "not known")
            return f"another trade: {category}"
        pinned = row.get("lat") is not None and row.get("lon") is not None
        if plan.areas and pinned and not plan.territory.contains(Point(float(row["lat"]), float(row["lon"]))):
            return OUTSIDE
        pages = self._pages(row.get("id")) if reads_pages(plan.rules) else None
        return rejected_by(plan.rules, row, chain=bool(chain), today=self._today, pages=pages)

    def _pages(self, business_id: int | None) -> str | None:
        """The text of a business's pages as last read, None if they were not."""
        if business_id is None:
            return None
        bodies = audits.raw_pages(self._conn, business_id)
        return " ".join(visible_text(body, kind) for _, kind, body in bodies) if bodies else None

    def distance(self, row: Mapping[str, Any], seen_by: Sequence[int]) -> float | None:
        """Metres from the agency's home, or from the middle of the newest sweep's territory."""
        if row.get("lat") is None or row.get("lon") is None:
            return None
        home = self._settings.home
        if home is None and not (seen_by and self._plan(seen_by[0]).areas):
            return None
        start = Point(*home) if home else self._plan(seen_by[0]).territory.centre
        return distance_m(start, Point(float(row["lat"]), float(row["lon"])))

    def relationship(self, row: Mapping[str, Any]) -> str:
        """What the business is to us, by its domain, e-mail, phone, or name with town or postcode."""
        if not self._relationships:
            return ""
        marks = identifiers_of(
            self._settings.region,
            name=str(row.get("name") or ""),
            places=(str(row.get("town") or ""), str(row.get("postcode") or "")),
            website=str(row.get("website") or ""),
            emails=(str(row.get("email") or ""),),
            phones=(str(row.get("phone") or ""),),
        )
        return relationship_among(marks, self._relationships)


def merge_new_listings(conn: sqlite3.Connection, new: Sequence[int], settings: Settings) -> list[int]:
    """Merge the listings `new` with what they touch; return the businesses that were written.

    They are compared with their neighbours (listings that share a block key); businesses that one of them may belong to are
    put together again, and no others, so that the work of a page does not grow with what is held. Whether a business is kept
    is judged by every sweep that saw it.
    """
    apart = joined_sources()
    entering = [held for held in listings.get_listings(conn, new) if held.listing.source not in apart]
    records = ListingRecords(conn, settings)
    made = records.make(entering)
    listings.put_keys(conn, {key: block_keys(record) for key, record in made.items()})
    ids = affected_listings(conn, made, records)
    written = recluster_listings(conn, listings.get_listings(conn, ids), set(made), settings, records)
    records.keep()
    return written


def affected_listings(conn: sqlite3.Connection, ids: Iterable[int], records: ListingRecords) -> list[int]:
    """The listings `ids`, what may be one with them by their looks or by the user's word, and all of the same businesses."""
    alike = records.partners(ids)
    _, together = decisions.decisions_of(conn, alike)
    return listings.with_companions(conn, alike.union(*together))


class Regrouping:
    """Listings clustered again, as they were read: which groups are to be written, and which pairs are doubtful.

    groups: lists of listing ids whose business changed, or that hold a `fresh` listing.
    """

    def __init__(
        self,
        conn: sqlite3.Connection,
        nearby: Iterable[StoredListing],
        settings: Settings,
        fresh: frozenset[int] = frozenset(),
        records: ListingRecords | None = None,
    ) -> None:
        self._settings = settings
        self._held, self._fresh = {item.id: item for item in nearby}, fresh
        self._decided = decisions.decisions_of(conn, self._held)
        apart, together = self._decided
        records = records or ListingRecords(conn, settings)
        found = cluster(records.of(self._held).values(), apart=apart, together=together)
        self._doubtful = found.doubtful
        self._before: dict[int, set[int]] = defaultdict(set)
        for item in self._held.values():
            if item.business_id is not None:
                self._before[item.business_id].add(item.id)
        self._taken: set[int] = set()
        self.groups = [group for group in found.groups if fresh.intersection(group) or self._changed(group)]

    def _changed(self, group: Sequence[int]) -> bool:
        owners = {self._held[listing_id].business_id for listing_id in group}
        return len(owners) != 1 or self._before.get(min(owners, key=str) or 0) != set(group)

    def still(self, conn: sqlite3.Connection, groups: Iterable[Sequence[int]]) -> list[Sequence[int]]:
        """Those of the groups about which nothing was written or decided since they were read."""
        groups = list(groups)
        ids = [listing_id for group in groups for listing_id in group]
        now_held = {item.id: item for item in listings.get_listings(conn, ids)}
        decided = [
            pair
            for new, old in zip(decisions.decisions_of(conn, ids), self._decided, strict=True)
            for pair in new ^ old
        ]
        moved = {listing_id for listing_id in ids if now_held.get(listing_id) != self._held[listing_id]}
        moved.update(listing_id for pair in decided for listing_id in pair)
        return [group for group in groups if not moved.intersection(group)]

    def write(self, conn: sqlite3.Connection, groups: Iterable[Sequence[int]]) -> list[int]:
        """Write the businesses of some of the groups; return their ids."""
        groups = list(groups)
        writer = _Writer(conn, [self._held[listing_id] for group in groups for listing_id in group], self._settings)
        written, gone = [], dict[int, int]()
        for group in groups:
            members = [self._held[listing_id] for listing_id in group]
            before = {item.business_id for item in members if item.business_id is not None} - self._taken
            made = writer.write(members, min(before, default=None))
            self._taken.add(made)
            emptied = {business for business in before - {made} if self._before[business] <= set(group)}
            self._taken |= emptied
            gone |= dict.fromkeys(sorted(emptied), made)
            written.append(made)
        writer.assign()
        for business, keeper in gone.items():
            businesses.delete_businesses(conn, business, keeper)
        return written

    def write_pairs(self, conn: sqlite3.Connection) -> None:
        """Keep which pairs are to be asked about."""
        decisions.replace_pairs(conn, self._fresh, self._held, self._doubtful)


def recluster_listings(
    conn: sqlite3.Connection,
    nearby: Iterable[StoredListing],
    fresh: set[int],
    settings: Settings,
    records: ListingRecords | None = None,
) -> list[int]:
    """Cluster listings again and write the businesses that changed, or that hold a `fresh` listing; return their ids."""
    found = Regrouping(conn, nearby, settings, frozenset(fresh), records)
    written = found.write(conn, found.groups)
    found.write_pairs(conn)
    return written


def rebuild_businesses(conn: sqlite3.Connection, ids: Iterable[int], settings: Settings) -> list[int]:
    """Write businesses again from the listings they have; return their ids."""
    held = [item for business_id in ids for item in listings.listings_of(conn, business_id)]
    return recluster_listings(conn, held, {item.id for item in held}, settings)


class _Writer:
    """Writes businesses from their listings; what is known of all of them is read at once."""

    def __init__(self, conn: sqlite3.Connection, members: Sequence[StoredListing], settings: Settings) -> None:
        self._conn, self._region = conn, settings.region
        self._evaluator = RelevanceEvaluator(conn, settings)
        self._seen_by = sweeps.sweeps_by_listing(conn, [item.id for item in members])
        self._carried = businesses.carried_over(
            conn, {item.business_id for item in members if item.business_id is not None}
        )
        self._change = next_change(conn)
        self._moved: list[tuple[int, int]] = []

    def write(self, members: Sequence[StoredListing], keeper: int | None) -> int:
        """Write the business of some listings; return its id. keeper: the business that it goes on as."""
        ordered, evaluator = in_order(members), self._evaluator
        facts = choose_facts(self._conn, ordered, keeper, self._region)
        row, chain = {field: fact.value for field, fact in facts.items()}, ""
        if keeper is not None:
            known = dict(self._carried.columns[keeper])
            chain = str(known.pop("chain"))
            row |= known | self._carried.corrections.get(keeper, {})
        trade, sure = trade_by_words(ordered, str(row["name"]), evaluator.trades)
        seen_by = newest_first(self._seen_by, members)
        merged = businesses.Merged(
            facts, min(item.seen_at for item in members), trade, evaluator.distance(row, seen_by),
            evaluator.rejected(row, trade, sure, seen_by, chain), evaluator.relationship(row),
            [item.listing.source for item in members],
        )  # fmt: skip
        business_id = businesses.save_business(self._conn, merged, keeper, self._carried, self._change)
        self._moved += [(business_id, item.id) for item in members if item.business_id != business_id]
        return business_id

    def assign(self) -> None:
        """Have the listings belong to what was written of them."""
        listings.assign(self._conn, self._moved)
