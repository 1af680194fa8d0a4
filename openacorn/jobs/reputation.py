"""The checks that no website is needed for: what listings, social pages and the neighbours say."""

import sqlite3
from collections.abc import Iterable, Sequence

from openacorn.core.audit.check import Absent, run_checks
from openacorn.core.audit.reputation import PROFILE, Reputation, SocialPage, differences
from openacorn.core.peers import Neighbours, Standing
from openacorn.sources._source import joined_sources
from openacorn.store import audits, businesses, listings
from openacorn.store.listings import Held

SOCIAL = "social_pages"


def _given(held: Held) -> tuple[str, ...]:
    return tuple(name for name in PROFILE if getattr(held.listing, name) not in (None, "", 0))


def reputation_of(members: Sequence[Held], standing: Standing) -> Reputation | None:
    """What the listings of one business say, the fullest one with reviews first; None if nothing lists it."""
    told = [held for held in members if held.listing.source not in joined_sources()]
    if not told:
        return None
    best = max(told, key=lambda held: (held.listing.reviews is not None, len(_given(held)), -held.id))
    said, given = best.listing, _given(best)
    return Reputation(
        source=said.source, at=best.seen_at, reviews=said.reviews, rating=said.rating, claimed=said.claimed, photos=said.photos,
        missing=tuple(name for name in PROFILE if name not in given), given=given,
        peers=standing.peers, reviews_rank=standing.reviews, rating_rank=standing.rating,
        sources=tuple(sorted({held.listing.source for held in told})), differences=differences([held.listing for held in told]),
    )  # fmt: skip


def social_page_of(members: Sequence[Held]) -> SocialPage | None:
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


class Judge:
    """Judges reputations; a trade's neighbours are read once and kept for the judge's life."""

    def __init__(self, conn: sqlite3.Connection) -> None:
        self._conn = conn
        self._trades: dict[str, Neighbours] = {}

    def neighbours(self, trade: str) -> Neighbours:
        """All businesses of a trade."""
        if trade not in self._trades:
            self._trades[trade] = Neighbours(businesses.peers_of(self._conn, trade))
        return self._trades[trade]

    def judge(self, ids: Iterable[int]) -> None:
        """Answer the checks on these businesses' reputation and keep the answers beside those on their websites."""
        for row in businesses.get_businesses(self._conn, list(ids)):
            members = listings.listings_of(self._conn, row["id"])
            reputation = reputation_of(members, self.neighbours(row["trade"]).standing(row["id"]))
            evidence: dict[type, object] = {
                Reputation: reputation or Absent("no source lists it"),
                SocialPage: social_page_of(members)
                or Absent("no social page of theirs was found, or none was looked for"),
            }
            audits.merge_findings(self._conn, row["id"], run_checks(evidence))
