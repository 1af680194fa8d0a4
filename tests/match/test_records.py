"""Records are made once and only as long as they say what the listing says; merging in pieces ends as merging at once."""

import random
import sqlite3
import tempfile
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from openacorn.business.store import decisions, listings, own_trades
from openacorn.core.gather.listing import Listing
from openacorn.core.match.normalise import record_of
from openacorn.core.trades.catalogue import made_trade
from openacorn.db.database import Database
from openacorn.match import recluster
from openacorn.match.merging import merge_new_listings
from openacorn.match.records import ListingRecords
from openacorn.runs.store import sweeps
from openacorn.settings import Settings

SETTINGS = Settings(region="AU")
AT = "2026-09-01T00:00:00+00:00"
GULL = Listing(
    "map_data", "1", "Gull Florist", "Florist", -37.0, 160.0, "14 Mill Lane", "Port Ellery", "7801", "(03) 5550 1234"
)


def crowd(seed: int) -> list[Listing]:
    """Forty listings of two sources about some twenty places, many of which could be one another."""
    rng = random.Random(seed)
    rows = []
    for number in range(40):
        place = number // 2
        name = f"{rng.choice(('Gull', 'Heron', 'Anchor'))} {rng.choice(('Vets', 'Florist'))} {rng.choice(('', place // 3))}"
        phone = f"(03) 5550 {place:04d}" if rng.random() < 0.7 else ""
        street = f"{place} Mill Lane" if rng.random() < 0.6 else ""
        lat = -37.0 + rng.random() / 500 if rng.random() < 0.8 else None
        rows.append(
            replace(GULL, source=f"directory:{number % 2}", source_id=str(number), name=name.strip(), category="", phone=phone,
                    street=street, lat=lat, lon=160.0 if lat is not None else None)
        )  # fmt: skip
    return rows


def take(database: Database, rows: Sequence[Listing]) -> None:
    with database.write() as conn:
        run = sweeps.add_run(conn, sweeps.add_sweep(conn, "s", "{}", AT), AT)
        merge_new_listings(conn, listings.put_listings(conn, run, "", rows, AT).to_merge, SETTINGS)


def held(database: Database) -> tuple[list[list[str]], list[Any]]:
    """(the listings of each business, the pairs of businesses to ask about with how likely they are one), by the listings' ids at their source."""
    with database.read() as conn:
        groups = {
            number: sorted(item.listing.source_id for item in rows) for number, rows in listings.by_business(conn)
        }
        pairs = [
            (groups[pair.first], groups[pair.second], pair.probability) for pair in decisions.open_pairs(conn, 999)
        ]
    return sorted(groups.values()), sorted((*sorted((a, b)), round(chance, 9)) for a, b, chance in pairs)


@settings(max_examples=12, deadline=None)
@given(st.integers(0, 10_000), st.randoms(use_true_random=False), st.integers(1, 12))
def test_what_comes_in_pieces_ends_as_what_comes_at_once(seed: int, shuffler: random.Random, piece: int) -> None:
    rows = crowd(seed)
    with tempfile.TemporaryDirectory() as folder:
        whole, parts = Database(Path(folder) / "whole.db"), Database(Path(folder) / "parts.db")
        take(whole, rows)
        before, _ = held(whole)
        recluster.recluster(whole, SETTINGS)
        assert held(whole)[0] == before  # what came at once has nothing to be settled
        shuffler.shuffle(rows)
        for start in range(0, len(rows), piece):
            take(parts, rows[start : start + piece])
        recluster.recluster(parts, SETTINGS)
        assert held(parts) == held(whole)
        whole.close()
        parts.close()


def test_a_listing_joins_its_business_and_leaves_others_alone(database: Database) -> None:
    """Sixty neighbours with like names: one is written, and none but the doubtful pairs of that one are asked about again."""
    others = [
        replace(
            GULL,
            source_id=f"n{number}",
            name=f"Gull {number} Florist",
            phone=f"(03) 5550 {number:04}",
            street=f"{number} Row",
        )
        for number in range(40)
    ]
    take(database, [GULL, *others])
    with database.read() as conn:
        pairs = len(decisions.open_pairs(conn, 999))
        changed = conn.execute("SELECT max(changed) FROM business").fetchone()[0]
    take(database, [replace(GULL, source="directory:1", source_id="2", name="GULL FLORISTS")])
    with database.read() as conn:
        assert len(decisions.open_pairs(conn, 999)) >= pairs
        rows = conn.execute("SELECT id FROM business WHERE changed > ?", (changed,)).fetchall()
        assert [len(listings.listings_of(conn, row["id"])) for row in rows] == [2]


def kept(conn: sqlite3.Connection) -> int:
    return int(conn.execute("SELECT count(*) FROM listing_record").fetchone()[0])


def test_a_record_says_what_its_listing_says_now(database: Database) -> None:
    there = replace(
        GULL, source_id="2", lat=None, lon=None, email="hello@gull.example", website="https://gull.example/"
    )
    take(database, [GULL, there])
    with database.read() as conn:
        read = ListingRecords(conn, SETTINGS).of([1, 2])
        fresh = {
            number: record_of(number, row, "AU", own_trades.trades_there(conn))
            for number, row in ((1, GULL), (2, there))
        }
        assert kept(conn) == 2
    assert {key: repr(record) for key, record in read.items()} == {key: repr(record) for key, record in fresh.items()}
    with database.write() as conn:  # whoever changes the wording, and be it an erasure
        conn.execute("UPDATE listing SET body = replace(body, 'Gull', 'Heron') WHERE id = 1")
        assert kept(conn) == 1
        assert ListingRecords(conn, SETTINGS).of([1])[1].core == "heron"


def test_records_are_made_again_for_another_country_or_with_another_trade(database: Database) -> None:
    take(database, [replace(GULL, phone="020 7946 0000", category="Kite maker")])
    with database.write() as conn:
        abroad = ListingRecords(conn, SETTINGS.model_copy(update={"region": "GB"})).of([1])[1]
        assert abroad.phone == "+442079460000" != ListingRecords(conn, SETTINGS).of([1])[1].phone
        own_trades.add_trade(conn, made_trade("Kite maker", "Kite makers", (), "", ()), AT)
        assert ListingRecords(conn, SETTINGS).of([1])[1].category == "own/kite-maker"


def test_a_neighbour_without_a_record_gets_one_when_it_is_met(database: Database) -> None:
    """As in a store from before there were records: each is made once, as soon as it is needed."""
    take(database, [GULL])
    with database.write() as conn:
        conn.execute("DELETE FROM listing_record")
    take(database, [replace(GULL, source_id="2", name="Gull Flowers", phone="", street="80 Row")])
    with database.read() as conn:
        assert kept(conn) == 2
