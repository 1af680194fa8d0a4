"""A time-out while our own loop stood still says nothing about the site."""

import asyncio
import time

from openacorn.core.audit.checks import answers
from openacorn.core.audit.evidence import Failure, Visit
from openacorn.core.audit.finding import Outcome
from openacorn.net.client import Client
from openacorn.net.probes.site import SiteProbe
from openacorn.net.pulse import Pulse
from openacorn.settings import Settings
from tests.net.serving import serving
from tests.net.test_client import hanging


def visited(seconds: float, still_s: float) -> Visit:
    """A visit to a server that never answers, by a process that stands still for a while meanwhile."""

    async def run() -> Visit:
        async with serving(hanging) as url, Client(Settings(), allow_private=True) as client:
            visit = asyncio.create_task(SiteProbe(client, lambda _: None, seconds=seconds).visit(url))
            await asyncio.sleep(0.3)
            time.sleep(still_s)  # noqa: ASYNC251 - that is what is tried here
            return (await visit)[0].visit

    return asyncio.run(run())


def test_a_time_out_of_our_own_making_is_unknown_and_never_a_gap() -> None:
    # on a machine that is busy with other things this very process may stand still: then once more
    honest = next(visit for _ in range(5) if (visit := visited(1.0, 0.0)).failure is not Failure.BUSY)
    ours = visited(1.0, 2.5)
    assert (honest.failure, answers.evaluate(honest).outcome) == (Failure.TIMEOUT, Outcome.GAP)
    assert (ours.failure, answers.evaluate(ours).outcome) == (Failure.BUSY, Outcome.UNKNOWN)


async def slow(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
    await reader.readuntil(b"\r\n\r\n")
    await asyncio.sleep(1.5)
    writer.write(b"HTTP/1.1 200 OK\r\nContent-Type: text/html\r\nContent-Length: 2\r\n\r\nhi")
    await reader.read()


def test_what_was_lost_while_a_server_thought_is_told_beside_its_wait() -> None:
    async def run() -> tuple[float, float]:
        async with serving(slow) as url, Client(Settings(), allow_private=True) as client:
            asked = asyncio.create_task(client.fetch(url))
            await asyncio.sleep(0.3)
            time.sleep(0.9)  # noqa: ASYNC251 - that is what is tried here
            answer = await asked
            return answer.wait_s, answer.lost_s

    wait_s, lost_s = asyncio.run(run())
    assert wait_s + lost_s >= 1.45  # however busy the machine is, the server's own second and a half lies inside
    assert lost_s >= 0.75


def test_a_pulse_counts_what_lies_in_the_time_asked_for() -> None:
    at = 100.0
    pulse = Pulse(lambda: at)
    for moment in (100.1, 100.2, 103.3, 103.4, 103.8):  # 3 s lost before 103.3, .3 s before 103.8
        at = moment
        pulse.beat()
    answered = [
        round(pulse.stood_still(since, least), 6) for since, least in ((100, 1), (100, 0.2), (102.3, 1), (103.5, 0.2))
    ]
    assert answered == [3.0, 3.3, 1.0, 0.3]
    assert [round(pulse.is_ours(since), 6) for since in (100, 95, 90, 103.4)] == [3.0, 3.0, 0.0, 0.0]
    at = 106.0  # it stands still now, and the beat that would say so is still to come
    assert round(pulse.stood_still(103.9), 6) == 2.1
