"""The checks that no website is needed for: what listings, social pages and the neighbours say."""

import sqlite3
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import orjson

from openacorn.business.facts import in_order
from openacorn.business.store import audits, businesses, listings, town_ranks
from openacorn.business.store.listings import StoredListing
from openacorn.business.store.town_ranks import TownRank
from openacorn.core.audit.check import Absent, all_checks, run_checks
from openacorn.core.audit.finding import Outcome
from openacorn.core.audit.reputation import PROFILE, LocalRank, Reputation, SocialPage, differences
from openacorn.core.geo.geodesy import Point, distance_m
from openacorn.core.score.fit import MIN_PEERS
from openacorn.core.score.peers import Neighbours, PeerRank
from openacorn.gather.sources._source import joined_sources

SOCIAL = "social_pages"
KNOWN = frozenset({Outcome.GAP, Outcome.PARTIAL, Outcome.OK})


def _given(held: StoredListing) -> tuple[str, ...]:
    return tuple(name for name in PROFILE if getattr(held.listing, name) not in (None, "", 0))


def reputation_of(members: Sequence[StoredListing], standing: PeerRank) -> Reputation | None:
    """What the listings of one business say, the fullest one with reviews first; None if nothing lists it."""
    listed = in_order([held for held in members if held.listing.source not in joined_sources()])
    if not listed:
        return None
    best = max(listed, key=lambda held: (held.listing.reviews is not None, len(_given(held))))
    listing, given = best.listing, _given(best)
    return Reputation(
        source=listing.source,
        at=best.seen_at,
        reviews=listing.reviews,
        rating=listing.rating,
        claimed=listing.claimed,
        photos=listing.photos,
        missing=tuple(name for name in PROFILE if name not in given),
        given=given,
        peers=standing.peers,
        reviews_rank=standing.reviews,
        rating_rank=standing.rating,
        sources=tuple(sorted({held.listing.source for held in listed})),
        differences=differences([held.listing for held in listed]),
    )


def social_page_of(members: Sequence[StoredListing]) -> SocialPage | None:
    """The facts of the business's social page, where the social source found it."""
    for held in members:
        facts = held.listing.extra
        if held.listing.source == SOCIAL:
            followers, ads = facts.get("followers"), facts.get("ads_running")
            return SocialPage(
                url=str(facts.get("page") or ""),
                at=held.seen_at,
                followers=int(followers) if isinstance(followers, int | float) else None,
                last_post=str(facts.get("last_post") or ""),
                ads_running=ads if isinstance(ads, bool) else None,
            )
    return None


def local_rank_of(members: Sequence[StoredListing], answers: Sequence[TownRank]) -> LocalRank | Absent:
    """The best place among the answers at the business's town."""
    found: LocalRank | None = None
    for answer in answers:
        own = {held.listing.source_id for held in members if held.listing.source == answer.source}
        rank = next((place for place, name in enumerate(answer.ids, 1) if name in own), None)
        if rank is None and not (own and answer.more):
            continue  # the source does not list it, or it lies outside of what was asked
        if found is None or (rank or len(answer.ids) + 1) < (found.rank or found.of + 1):
            found = LocalRank(answer.source, answer.at, answer.word, answer.town, rank, len(answer.ids))
    if found is not None:
        return found
    return Absent("not in the answer asked at its town" if answers else "nobody was asked at its town's centre")


NEAREST_SHOWN = 6
WORTH_SAYING = 0.4
"""Share of the peers that must have what one lacks before it is worth saying."""


@dataclass(frozen=True, slots=True)
class PeerGap:
    """A gap of one business, and how many of the peers whose answer is known have none."""

    check: str
    title: str
    have: int
    of: int


@dataclass(frozen=True, slots=True)
class PeerComparison:
    """A business beside its peers. reviewed: of how many of them the number of reviews is known; no_more: how many of those have
    no more than this business, None where it is not known or too few are; reviews, rating: as core.peers.Standing."""

    count: int
    reviewed: int
    no_more: int | None
    reviews: float | None
    rating: float | None
    nearest: list[dict[str, Any]]
    lacks: list[PeerGap]


def compare_with_peers(
    conn: sqlite3.Connection, row: Mapping[str, Any], neighbours: Neighbours | None = None
) -> PeerComparison | None:
    """The nearest of the trade beside a business; None where there are too few to say anything. neighbours: of its trade, where
    they were read already."""
    neighbours = neighbours or Neighbours(businesses.peers_of(conn, row["trade"]))
    standing = neighbours.standing(row["id"])
    if not standing.peers:
        return None
    peers = businesses.get_businesses(conn, neighbours.nearest(row["id"]))
    own = orjson.loads(row["outcomes"])
    theirs = [orjson.loads(peer["outcomes"]) for peer in peers]
    lacks = []
    for check in all_checks():
        if own.get(check.id) != Outcome.GAP:
            continue
        known = [listing[check.id] for listing in theirs if listing.get(check.id) in KNOWN]
        have = sum(outcome == Outcome.OK for outcome in known)
        if len(known) >= MIN_PEERS and have >= WORTH_SAYING * len(known):
            lacks.append(PeerGap(check.id, check.title, have, len(known)))
    here = Point(row["lat"], row["lon"])
    nearest = [
        {name: peer[name] for name in ("id", "name", "town", "reviews", "rating")}
        | {"distance_m": round(distance_m(here, Point(peer["lat"], peer["lon"])))}
        for peer in peers[:NEAREST_SHOWN]
    ]
    reviewed = [peer["reviews"] for peer in peers if peer["reviews"] is not None]
    lacks.sort(key=lambda lack: -lack.have / lack.of)
    no_more = None
    if row["reviews"] is not None and len(reviewed) >= MIN_PEERS:
        no_more = sum(number <= row["reviews"] for number in reviewed)
    return PeerComparison(standing.peers, len(reviewed), no_more, standing.reviews, standing.rating, nearest, lacks)


class ReputationAuditor:
    """Judges reputations; a trade's neighbours are read once and kept for the judge's life."""

    def __init__(self, conn: sqlite3.Connection) -> None:
        self._conn = conn
        self._trades: dict[str, Neighbours] = {}
        self._ranks: dict[str, dict[str, list[TownRank]]] = {}

    def neighbours(self, trade: str) -> Neighbours:
        """All businesses of a trade."""
        if trade not in self._trades:
            self._trades[trade] = Neighbours(businesses.peers_of(self._conn, trade))
        return self._trades[trade]

    def _answers(self, row: dict[str, Any]) -> list[TownRank]:
        trade = row["trade"]
        if trade not in self._ranks:
            self._ranks[trade] = town_ranks.list_ranks(self._conn, trade)
        return self._ranks[trade].get(row["town"].lower(), [])

    def judge(self, ids: Iterable[int]) -> None:
        """Answer the checks on these businesses' reputation and keep the answers beside those on their websites."""
        for row in businesses.get_businesses(self._conn, list(ids)):
            members = listings.listings_of(self._conn, row["id"])
            reputation = reputation_of(members, self.neighbours(row["trade"]).standing(row["id"]))
            evidence: dict[type, object] = {
                Reputation: reputation or Absent("no source lists it"),
                LocalRank: local_rank_of(members, self._answers(row)),
                SocialPage: social_page_of(members) or Absent("no social page was found, or none was looked for"),
            }
            audits.merge_findings(self._conn, row["id"], run_checks(evidence))
