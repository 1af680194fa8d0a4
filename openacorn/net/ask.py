"""Ask a source: pace, retries with backoff, Retry-After, one place for all sources."""

import asyncio
import email.utils
import random
import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from urllib.parse import urlencode, urljoin

from openacorn.core.audit.address import host_of
from openacorn.core.audit.evidence import Failure
from openacorn.gather.sources._source import Drawing, Request, SourceFailure, SourceReply
from openacorn.net.client import SENT_ON, Answer, Client
from openacorn.net.errors import FetchError
from openacorn.net.pace import Pace
from openacorn.net.probes.browser_session import BrowserTrouble, NoBrowser
from openacorn.net.probes.robots import Robots, read_robots

RETRIES = 5
BACKOFF_S = 0.4
LONGEST_REST_S = 120.0
MAX_REDIRECTS = 5
PASSING_STATUS = frozenset({429, 500, 502, 503, 504})
PASSING_FAILURES = frozenset(
    {Failure.TIMEOUT, Failure.REFUSED, Failure.UNREACHABLE, Failure.PROTOCOL, Failure.DNS_UNAVAILABLE, Failure.BUSY}
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


def _root(url: str) -> str:
    return "/".join(url.split("/")[:3])


def _lane(url: str) -> str:
    """Whose pace a request keeps: the host's with its port."""
    return f"{host_of(url)}:{url.split('/')[2].partition(':')[2]}"


class Asker:
    """Sends the requests of sources. `jitter` spreads retries, so that many do not come back at once."""

    def __init__(
        self,
        client: Client,
        pace: Pace,
        *,
        language: str = "",
        retries: int = RETRIES,
        jitter: Callable[[], float] = random.random,
    ) -> None:
        self._retries = retries
        self._language = {"Accept-Language": language} if language else {}
        self._client = client
        self._pace = pace
        self._jitter = jitter
        self._rules: dict[str, Robots] = {}
        self._cookies: dict[str, dict[str, str]] = {}
        self._logging_in = asyncio.Lock()
        self.tally = Tally()

    async def _allowed(self, url: str, pace_s: float) -> bool:
        """Does the site's robots.txt let us read this page? Its rules are read once."""
        root = _root(url)
        if root not in self._rules:
            async with self._pace.turn(root, pace_s):
                self.tally.requests += 1
                try:
                    self._rules[root] = read_robots(await self._client.fetch(f"{root}/robots.txt", seconds=20))
                except FetchError:
                    self._rules[root] = Robots(None)  # the page itself will say what is wrong
        return self._rules[root].allows(url)

    async def _log_in(self, request: Request) -> None:
        """Send the site's log-in form once; what cookies it answers go along with every later request there."""
        assert request.log_in is not None
        root = _root(request.url)
        if root in self._cookies:
            return
        self._cookies[root] = {}
        answer = await self._persist(request.log_in.url, {}, request.log_in.form, request.pace_s)
        if answer.status >= 400 or not answer.cookies:
            detail = f"HTTP {answer.status}" + ("" if answer.cookies else ", and no session was opened")
            del self._cookies[root]
            raise SourceFailure(f"the log-in was refused ({detail})", "enter the user and the secret again")
        self._cookies[root] = dict(answer.cookies)

    async def ask(self, request: Request) -> SourceReply:
        """Return a good answer. Raises SourceFailure with what went wrong and what to do."""
        url = f"{request.url}?{urlencode(request.params)}" if request.params else request.url
        if request.robots and not await self._allowed(url, request.pace_s):
            raise SourceFailure("its robots.txt does not let us read this page", "choose another source for this area")
        if request.log_in is not None:
            async with self._logging_in:
                await self._log_in(request)
        if request.drawing is not None and not request.form:
            return await self._draw(url, request.drawing, request.pace_s)
        form: Mapping[str, str] | bytes = request.body or request.form
        for _ in range(MAX_REDIRECTS):
            answer = await self._persist(url, request.headers, form, request.pace_s)
            if answer.status == 200:
                return SourceReply(answer.body, answer.headers, answer.url)
            there = urljoin(url, answer.headers.get("location", ""))
            if there == url or host_of(there).removeprefix("www.") != host_of(url).removeprefix("www."):
                break
            url, form = there, {}  # pages move, and a form may answer by sending its visitor on
        raise SourceFailure(f"HTTP {answer.status}: sent on to {there}", "check the source's address or its log-in")

    async def _draw(self, url: str, drawing: Drawing, pace_s: float) -> SourceReply:
        """The page as a browser draws it. Raises SourceFailure."""
        async with self._pace.turn(_lane(url), pace_s):
            self.tally.requests += 1
            try:
                drawn = await self._client.draw(url, rows=drawing.rows, more=drawing.more, most=drawing.most)
            except NoBrowser as missing:
                raise SourceFailure(str(missing), "install it, or have the page read without a browser") from missing
            except BrowserTrouble as trouble:
                raise SourceFailure(str(trouble), "check the address; try it again later") from trouble
        return SourceReply(drawn.html.encode(), {"content-type": "text/html; charset=utf-8"}, drawn.url)

    async def _persist(
        self, url: str, headers: Mapping[str, str], form: Mapping[str, str] | bytes, pace_s: float
    ) -> Answer:
        """Ask until there is an answer that asking again would not change. Raises SourceFailure."""
        host = _lane(url)
        cookies = self._cookies.get(_root(url))
        sent = {**self._language, **headers}
        if cookies:
            sent["Cookie"] = "; ".join(f"{name}={value}" for name, value in cookies.items())
        trouble = ""
        for attempt in range(self._retries + 1):
            async with self._pace.turn(host, pace_s):
                self.tally.requests += 1
                self.tally.retries += attempt > 0
                try:
                    answer = await self._client.fetch(url, headers=sent, form=form or None, seconds=20)
                except FetchError as error:
                    if error.failure not in PASSING_FAILURES:
                        raise SourceFailure(
                            f"{error.failure}: {error.detail}", "check the source's address in the settings"
                        ) from error
                    trouble = f"{error.failure}: {error.detail}"
                    answer = None
            if answer is not None and (answer.status == 200 or answer.status in SENT_ON):
                return answer
            if answer is not None:
                trouble = self._refusal(answer)
            if attempt < self._retries:
                await asyncio.sleep(self._rest(host, answer, attempt))
        raise SourceFailure(
            trouble + (f", {self._retries + 1} times" if self._retries else ""),
            "try again when the source is up: what was gathered so far is kept",
        )

    @staticmethod
    def _refusal(answer: Answer) -> str:
        if answer.status in PASSING_STATUS:
            return f"HTTP {answer.status}"
        said = answer.body[:200].decode("utf-8", "replace").strip()
        detail = "" if said.startswith("<") else f": {said}"  # a page for people says less than the number
        remedy = "check the key" if answer.status in {401, 403} else "the source did not understand the question"
        raise SourceFailure(f"HTTP {answer.status}{detail}", remedy)

    def _rest(self, host: str, answer: Answer | None, attempt: int) -> float:
        pause = retry_after(answer.headers.get("retry-after", ""), time.time()) if answer is not None else None
        if pause is not None:
            seconds = min(pause, LONGEST_REST_S)
            self._pace.rest(host, seconds)
            self.tally.rested_s += seconds
            return seconds * (1 + 0.1 * self._jitter())
        return float(BACKOFF_S * 2**attempt * (0.5 + self._jitter()))
