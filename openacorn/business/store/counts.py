"""Counts for the people who watch over an installation."""

import sqlite3

COUNTS = {
    "acorn_businesses": ("Businesses in store", "SELECT count(*) FROM business"),
    "acorn_runs_running": ("Sweeps that are running", "SELECT count(*) FROM run WHERE state = 'running'"),
    "acorn_messages_waiting": ("Messages that wait to be sent", "SELECT count(*) FROM message WHERE state = 'waiting'"),
    "acorn_webhooks_waiting": ("Webhook deliveries under way", "SELECT count(*) FROM webhook_delivery WHERE next_at != ''"),
}  # fmt: skip
"""Name → (meaning, query)."""

MEANINGS = {name: meaning for name, (meaning, _) in COUNTS.items()}


def count_all(conn: sqlite3.Connection) -> dict[str, int]:
    """Name → how many."""
    return {name: int(conn.execute(query).fetchone()[0]) for name, (_, query) in COUNTS.items()}


CHANGES = """
SELECT (SELECT number FROM change_counter) AS businesses, (SELECT ifnull(max(id), 0) FROM deed) AS acts,
  (SELECT ifnull(max(id), 0) FROM step) AS contacts,
  (SELECT ifnull(max(id), 0) FROM incoming) + (SELECT ifnull(max(id), 0) FROM reply) AS inbox
"""


def change_numbers(conn: sqlite3.Connection) -> dict[str, int]:
    """Numbers that grow with each change of what they are named after."""
    return dict(conn.execute(CHANGES).fetchone())
