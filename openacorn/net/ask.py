"""Ask a source: pace, retries with backoff, Retry-After, one place for all sources."""

import asyncio
import email.utils
import random
import time
from collections.abc import Callable
from dataclasses import dataclass
from urllib.parse import urlencode

from openacorn.core.audit.evidence import Failure
from openacorn.core.audit.hosts import host_of
from openacorn.net.client import Answer, Client
from openacorn.net.errors import FetchError
from openacorn.net.pace import Pace
from openacorn.net.probes.robots import Robots, read_robots
from openacorn.sources._source import Request, SourceFailure

RETRIES = 5
BACKOFF_S = 0.4
LONGEST_REST_S = 120.0
PASSING_STATUS = frozenset({429, 500, 502, 503, 504})
PASSING_FAILURES = frozenset(
    {Failure.TIMEOUT, Failure.REFUSED, Failure.UNREACHABLE, Failure.PROTOCOL, Failure.DNS_UNAVAILABLE}
)


@dataclass(slots=True)
class Tally:
    """What asking took: requests made, of these retried, seconds spent resting on the source's word."""

    requests: int = 0
    retries: int = 0
    rested_s: float = 0.0


def retry_after(value: str, now: float) -> float | None:
    """Return seconds from a Retry-After header (RFC 9110 §10.2.3): a number or a date; None if it is neither."""
    if value.strip().isdigit():
        return float(value)
    try:
        return max(0.0, email.utils.parsedate_to_datetime(value).timestamp() - now)
    except (ValueError, TypeError):
        return None


class Asker:
    """Sends the requests of sources. `jitter` spreads retries, so that many do not come back at once."""

    def __init__(self, client: Client, pace: Pace, *, jitter: Callable[[], float] = random.random) -> None:
        self._client = client
        self._pace = pace
        self._jitter = jitter
        self._rules: dict[str, Robots] = {}
        self.tally = Tally()

    async def _allowed(self, url: str, pace_s: float) -> bool:
        """Does the site's robots.txt let us read this page? Its rules are read once."""
        root = "/".join(url.split("/")[:3])
        if root not in self._rules:
            async with self._pace.turn(root, pace_s):
                self.tally.requests += 1
                try:
                    self._rules[root] = read_robots(await self._client.fetch(f"{root}/robots.txt", seconds=20))
                except FetchError:
                    self._rules[root] = Robots(None)  # the page itself will say what is wrong
        return self._rules[root].allows(url)

    async def ask(self, request: Request) -> bytes:
        """Return the body of a good answer. Raises SourceFailure with what went wrong and what to do."""
        url = f"{request.url}?{urlencode(request.params)}" if request.params else request.url
        host = f"{host_of(url)}:{request.url.split('/')[2].partition(':')[2]}"
        if request.robots and not await self._allowed(url, request.pace_s):
            raise SourceFailure("its robots.txt does not let us read this page", "choose another source for this area")
        trouble = ""
        for attempt in range(RETRIES + 1):
            async with self._pace.turn(host, request.pace_s):
                self.tally.requests += 1
                self.tally.retries += attempt > 0
                try:
                    answer = await self._client.fetch(url, headers=request.headers, seconds=20)
                except FetchError as error:
                    if error.failure not in PASSING_FAILURES:
                        raise SourceFailure(
                            f"{error.failure}: {error.detail}", "check the source's address in the settings"
                        ) from error
                    trouble = f"{error.failure}: {error.detail}"
                    answer = None
            if answer is not None and answer.status == 200:
                return answer.body
            if answer is not None:
                trouble = self._refusal(answer)
            if attempt < RETRIES:
                await asyncio.sleep(self._rest(host, answer, attempt))
        raise SourceFailure(
            f"{trouble}, {RETRIES + 1} times", "try again when the source is up: what was gathered so far is kept"
        )

    @staticmethod
    def _refusal(answer: Answer) -> str:
        if answer.status in PASSING_STATUS:
            return f"HTTP {answer.status}"
        said = answer.body[:200].decode("utf-8", "replace")
        remedy = (
            "check the key in the settings"
            if answer.status in {401, 403}
            else "the source did not understand the question"
        )
        raise SourceFailure(f"HTTP {answer.status}: {said}", remedy)

    def _rest(self, host: str, answer: Answer | None, attempt: int) -> float:
        told = retry_after(answer.headers.get("retry-after", ""), time.time()) if answer is not None else None
        if told is not None:
            seconds = min(told, LONGEST_REST_S)
            self._pace.rest(host, seconds)
            self.tally.rested_s += seconds
            return seconds * (1 + 0.1 * self._jitter())
        return float(BACKOFF_S * 2**attempt * (0.5 + self._jitter()))
