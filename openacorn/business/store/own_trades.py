"""Trades that the user added to the shipped ones."""

import sqlite3

import orjson

from openacorn.core.trades.catalogue import SHIPPED, Catalogue, catalogue, made_trade
from openacorn.core.trades.trade import Trade, UnknownTrade

SHIPPED_IDS = frozenset(trade.id for trade in SHIPPED)
LIST = "SELECT label, plural, words, parent FROM own_trade ORDER BY made_at, id"
USED = """
SELECT (SELECT count(*) FROM business WHERE trade = ?)
  + (SELECT count(*) FROM sweep, json_each(sweep.plan, '$.trades') WHERE json_each.value = ?)
"""
ADD = "INSERT INTO own_trade (id, label, plural, words, parent, made_at) VALUES (?, ?, ?, ?, ?, ?)"


def own_trades(conn: sqlite3.Connection) -> list[Trade]:
    """The user's trades, oldest first; one whose wider trade is gone is shown on its own."""
    found: list[Trade] = []
    for label, plural, words, parent in conn.execute(LIST):
        wider = parent if parent in SHIPPED_IDS else ""
        found.append(made_trade(label, plural, orjson.loads(words), wider, (trade.id for trade in found)))
    return found


def trades_there(conn: sqlite3.Connection) -> Catalogue:
    """The shipped trades and the user's."""
    return catalogue(tuple(own_trades(conn)))


def add_trade(conn: sqlite3.Connection, trade: Trade, at: str) -> None:
    """Keep a trade. Raises UnknownTrade if there is one of its name."""
    try:
        words = orjson.dumps(trade.words).decode()
        conn.execute(ADD, (trade.id, trade.label, trade.plural, words, trade.parent, at))
    except sqlite3.IntegrityError:
        raise UnknownTrade(f"there is a trade called {trade.label!r} already") from None


def drop_trade(conn: sqlite3.Connection, trade_id: str) -> None:
    """Take a trade away. Raises UnknownTrade if it is not the user's own, or if something is of that trade."""
    used = conn.execute(USED, (trade_id, trade_id)).fetchone()[0]
    if used:
        raise UnknownTrade(f"{used} saved sweeps and held businesses are of this trade; it stays")
    if conn.execute("DELETE FROM own_trade WHERE id = ?", (trade_id,)).rowcount == 0:
        raise UnknownTrade(f"{trade_id!r} is not one of your own trades")
