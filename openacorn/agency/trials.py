"""One small real request to a source, the mail server, the registry or a webhook, and its result in plain words."""

import asyncio
import sqlite3
from dataclasses import dataclass

import orjson

from openacorn.business.store import own_trades
from openacorn.core.gather.planning import Query
from openacorn.core.geo.geodesy import Circle, Point
from openacorn.core.geo.tiles import bounding_tile
from openacorn.core.trades.trade import Trade
from openacorn.core.writing.fidelity import Statement, check_rewrite
from openacorn.core.writing.helper import HelperError, Wish
from openacorn.db.database import Database
from openacorn.gather.api_trial import NO_HOME
from openacorn.gather.queries import words_of
from openacorn.gather.reach import endpoint_of, source_in
from openacorn.gather.sources._source import Endpoint, Source, SourceFailure, source_of
from openacorn.gather.store import places
from openacorn.net import webhook, writing_helper
from openacorn.net.ask import Asker
from openacorn.net.client import Client
from openacorn.net.mail import send_notice
from openacorn.net.pace import Pace
from openacorn.net.probes.domains import domain_states
from openacorn.settings import Settings

RADIUS_M = 2_000.0
NEAREST_M = 30_000.0
"""How far from home a town may be whose name is asked for."""

SHOWN = 5
SAMPLE = "The website of the bakery has no phone number on its first page."
TRADES = ("shop/hairdresser", "florists")
"""A trade that every town has is asked for; the first of these that is known."""


@dataclass(frozen=True, slots=True)
class TrialResult:
    """said: what came back or what is wrong; remedy: "" where nothing is; shown: names or lines that came back."""

    ok: bool
    said: str
    remedy: str = ""
    shown: tuple[str, ...] = ()


def _question(conn: sqlite3.Connection, source: Source, home: tuple[float, float]) -> Query:
    """A small question that this kind of source takes, near home."""
    trades = {trade.id: trade for trade in own_trades.trades_there(conn).trades}
    trade: Trade = next((trades[name] for name in TRADES if name in trades), next(iter(trades.values())))
    word = words_of(trade)[0]
    if source.by == "business":
        return Query(source.id, trade.id, "agency.example")
    if source.by == "tiles":
        return Query(source.id, trade.id, word, tile=bounding_tile(Circle(Point(*home), RADIUS_M)))
    around = places.towns(conn, bounding_tile(Circle(Point(*home), NEAREST_M)))
    near = min(around, key=lambda town: abs(town.lat - home[0]) + abs(town.lon - home[1]), default=None)
    return Query(source.id, trade.id, word, place=near.name if near else "London")


async def try_source(database: Database, settings: Settings, source_id: str) -> TrialResult:
    """Ask a source one question near home."""
    source = source_of(source_id)

    def prepared() -> tuple[Endpoint, Query]:
        with database.read() as conn:
            endpoint = endpoint_of(conn, settings, source_id, database.path.parent)
            return endpoint, _question(conn, source_in(conn, source_id), settings.home or NO_HOME)

    try:
        endpoint, query = await asyncio.to_thread(prepared)
        async with Client(settings, allow_private=settings.world is not None) as client:
            reply = await Asker(client, Pace(), retries=0).ask(source.ask(query, endpoint))
        reading = source.read(query, endpoint, reply)
    except SourceFailure as failure:
        return TrialResult(False, str(failure), failure.remedy)
    names = tuple(listing.name for listing in reading.listings[:SHOWN] if listing.name)
    if not reading.listings:
        return TrialResult(True, "It answered, and found nothing for this question.", "", ())
    more = " and there are more" if reading.more else ""
    return TrialResult(True, f"It answered with {len(reading.listings)} results{more}.", "", names)


def try_mail(settings: Settings) -> TrialResult:
    """Send a notice to the agency's own address."""
    to = settings.contact_address
    if not to:
        return TrialResult(False, "There is no contact e-mail to send it to.", "enter your contact e-mail first")
    text = "This is a test. Notices of finished sweeps will reach you at this address."
    if fault := send_notice(settings.mail, to, "Open Acorn: a test", text):
        return TrialResult(False, fault, "check server, port, user name and password with your mail provider")
    return TrialResult(True, f"The mail server took a message to {to}.")


async def try_registry(settings: Settings) -> TrialResult:
    """Ask the registry about one domain."""
    if not settings.registry:
        return TrialResult(False, "No registry is set.", "enter its RDAP address")
    ending = settings.endings[0] if settings.endings else "com"
    domain = f"example.{ending}"
    async with Client(settings, allow_private=settings.world is not None) as client:
        states = await domain_states(client, settings.registry, [domain])
    state = dict(states).get(domain, "unknown")
    if state == "unknown":
        return TrialResult(False, f"It did not say whether {domain} is taken.", "check the address: it must speak RDAP")
    return TrialResult(True, f"It says that {domain} is {state}.")


async def try_writing(settings: Settings) -> TrialResult:
    """Let the writing helper reword a sentence."""
    try:
        _, text = await writing_helper.reword(settings, Wish(SAMPLE, "friendlier", "en"))
    except HelperError as error:
        return TrialResult(False, str(error), error.remedy)
    if not check_rewrite([Statement(SAMPLE)], text, [], "en").holds:
        said = "It answered, and said more than the sentence it was given. Texts like this are not used:"
        return TrialResult(True, said, "", (text,))
    return TrialResult(True, "It answered, and kept to what it was given:", "", (text,))


async def try_webhook(settings: Settings, address: str) -> TrialResult:
    """Send a small JSON message to an address."""
    body = orjson.dumps({"event": "test", "text": "A test of Open Acorn."})
    if fault := await webhook.post(settings, address, body, "application/json"):
        return TrialResult(False, fault, "check the address, and that its server takes a POST of JSON")
    return TrialResult(True, "It took the message.")
