"""Answers asked at a town's centre, in their order."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

import orjson

PUT = "INSERT OR REPLACE INTO town_rank (source, trade, town, at, word, more, ids) VALUES (?, ?, ?, ?, ?, ?, ?)"
GET = "SELECT ids FROM town_rank WHERE source = ? AND trade = ? AND town = ?"
OF_TRADE = "SELECT source, town, at, word, more, ids FROM town_rank WHERE trade = ?"


@dataclass(frozen=True, slots=True)
class TownRank:
    """An answer. ids: the source's names of its listings, the first first; more: the source held more than it handed out."""

    source: str
    town: str
    at: str
    word: str
    more: bool
    ids: tuple[str, ...]


def insert_ranks(conn: sqlite3.Connection, trade: str, rank: TownRank, before: int) -> None:
    """Keep a page of an answer behind the `before` rows that are there already; the first page begins again."""
    row = conn.execute(GET, (rank.source, trade, rank.town)).fetchone() if before else None
    ids: Sequence[str] = [*(orjson.loads(row["ids"])[:before] if row else []), *rank.ids]
    values = (rank.source, trade, rank.town, rank.at, rank.word, int(rank.more), orjson.dumps(ids).decode())
    conn.execute(PUT, values)


def list_ranks(conn: sqlite3.Connection, trade: str) -> dict[str, list[TownRank]]:
    """Town in lower case → the answers there."""
    found: dict[str, list[TownRank]] = {}
    for row in conn.execute(OF_TRADE, (trade,)):
        rank = TownRank(
            row["source"], row["town"], row["at"], row["word"], bool(row["more"]), tuple(orjson.loads(row["ids"]))
        )
        found.setdefault(rank.town.lower(), []).append(rank)
    return found
