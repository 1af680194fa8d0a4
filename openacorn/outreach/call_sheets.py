"""Call sheets, made from what the store holds."""

from dataclasses import replace

from openacorn.core.audit.check import owners_topics
from openacorn.core.languages.catalogue import LANGUAGES, Translator
from openacorn.core.outreach.call_sheet import MOST_CLAIMS, CallSheet, Number, Somebody, numbers_of
from openacorn.core.outreach.objections import objections
from openacorn.outreach.pitch import Pitch, Pitcher, peer_sentence

MOST_PEERS = 3


def _peers(pitch: Pitch) -> tuple[str, ...]:
    """What the nearest of the trade have that this one lacks, as sentences to be spoken."""
    beside = pitch.peers
    if beside is None:
        return ()
    topics, words = owners_topics(), Translator(pitch.language)
    trades = pitch.trades.lower() or "businesses"
    selected = [peer_sentence(pitch, lack, topics[lack.check], words) for lack in beside.lacks if lack.check in topics]
    if beside.no_more is not None:
        few = f"{beside.no_more} of {beside.reviewed} {trades} nearby"
        selected.append(f"{pitch.row['reviews']} reviews: as many as or more than {few}")
    return tuple(selected[:MOST_PEERS])


def _numbers(pitch: Pitch, pitcher: Pitcher) -> tuple[Number, ...]:
    """Numbers to call; beside one that stands on a register of who must not be called, which one."""
    row = pitch.row
    found = numbers_of(pitch.channels, pitcher.now, None if row["lat"] is None else (row["lat"], row["lon"]))
    return tuple(replace(item, register=pitcher.register_of(item.value)) for item in found)


def sheet_of(pitch: Pitch, pitcher: Pitcher) -> CallSheet:
    """One business's sheet. Nobody who refused has a number on it."""
    row, service, audit, words = pitch.row, pitch.service, pitch.audit, Translator(pitch.language)
    return CallSheet(
        id=row["id"],
        name=row["name"],
        trade=pitch.trade,
        town=row["town"],
        website=row["website"],
        hours=row["hours"],
        relationship=row["relationship"],
        service=service.id if service else "",
        offer=service.title if service else "",
        why=service.sentence if service else "",
        value=pitch.offer.value if pitch.offer else None,
        line=pitch.line,
        people=tuple(Somebody(p.name, f"{p.roles[0][0]} ({p.roles[0][1]})") for p in pitch.people),
        numbers=_numbers(pitch, pitcher),
        claims=tuple(claim.in_language(words) for claim in pitch.selected.claims[:MOST_CLAIMS]),
        withheld=pitch.selected.withheld,
        peers=_peers(pitch),
        objections=objections(service.id if service else ""),
        looked_at=audit.at if audit else "",
        stale=pitch.stale,
        language=LANGUAGES[pitch.language],
    )
