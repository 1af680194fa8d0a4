"""A site as a browser shows it: on a phone and on a desk, with what it loads, how long that takes, and how it looks."""

import asyncio
import base64
import contextlib
import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from importlib import resources
from typing import Any

from openacorn.clock import utc_now
from openacorn.core.audit.evidence import FileKind, Rendered, Subresource
from openacorn.core.audit.extract.page import read_page
from openacorn.core.audit.extract.tags import find_tags
from openacorn.core.audit.spots import PHONE_PX, Spot, SpotKind
from openacorn.net.probes.browser_session import ERROR_PAGE, LOAD_SECONDS, BrowserSession, BrowserTrouble, in_browser
from openacorn.settings import Settings

DESK = (1280, 800)
LATENCY_MS, DOWN_BYTES_S, UP_BYTES_S = 150, 1_600_000 / 8, 750_000 / 8
"""The stated profile of the load model, as Chromium's network emulation takes it."""

SITE_SECONDS = 60.0
MAX_WINDOWS = 20
QUALITY = 55
MAX_REQUESTS = 400
MAX_LOST = 20
LOST_KINDS = {"Script": FileKind.SCRIPT, "Stylesheet": FileKind.STYLE}
"""Kinds of files, as the browser's log names them, without which a page is not what its visitors see."""

MAX_HTML = 2_000_000
LOOK = resources.files("openacorn.net.probes").joinpath("look.js").read_text("utf-8")
MOST_SPOTS = 12
MOST_TEXT = 80


@dataclass(frozen=True, slots=True)
class BrowserVisit:
    """What the browser saw, and pictures of it (WebP): kind → bytes."""

    rendered: Rendered
    pictures: dict[str, bytes]


class BrowserProbe:
    """Opens sites in browsers of their own, at most `most` at a time."""

    def __init__(
        self, settings: Settings, *, allow_private: bool = False, most: int = 1, seconds: float = SITE_SECONDS
    ) -> None:
        self._settings = settings
        self._allow_private = allow_private
        self._room = asyncio.Semaphore(most)
        self._seconds = seconds

    async def look(self, url: str, region: str | None = None) -> BrowserVisit:
        """Open a site on a phone and on a desk. region: ISO 3166 code of the business's country, if that is known. Raises
        NoBrowser; what the site does wrong is in the result."""
        async with self._room:
            try:
                seen, refused = await in_browser(
                    self._settings,
                    lambda session: _Look(session, region, self._settings.region).visit(url),
                    allow_private=self._allow_private,
                    seconds=self._seconds,
                )
            except BrowserTrouble as trouble:
                return _failed(url, str(trouble))
        return replace(seen, rendered=replace(seen.rendered, refused=refused))


def _failed(url: str, why: str) -> BrowserVisit:
    return BrowserVisit(Rendered(url, utc_now(), failed=why), {})


class _Look:
    """A visit by one browser, on a phone and on a desk."""

    def __init__(self, session: BrowserSession, region: str | None, home: str | None) -> None:
        self._session, self._region, self._home = session, region, home
        self._driver, self._tell = session.driver, session.tell

    def visit(self, url: str) -> BrowserVisit:
        at = utc_now()
        phone, phone_given = self._open(url, PHONE_PX, mobile=True, slow=True)
        requests, lost = self._requests()
        if str(phone_given["at"]).startswith(ERROR_PAGE):
            return BrowserVisit(Rendered(url, at, failed="the browser could not open it"), {})
        pictures = {"phone": phone}
        html, final = str(phone_given["html"])[:MAX_HTML], str(self._driver.current_url)
        pictures["desk"], _ = self._open(url, DESK, mobile=False, slow=False)
        page = read_page(html, final, at, self._region, home=self._home)
        page = replace(page, tags=tuple(dict.fromkeys((*page.tags, *find_tags(requests)))))
        rendered = Rendered(
            final, at, page=page, load_s=round(float(phone_given["load"]), 2), lcp_s=round(float(phone_given["lcp"]), 2),
            width=PHONE_PX[0], content_width=int(phone_given["wide"]), scale=round(float(phone_given["scale"]), 3),
            requests=tuple(requests[:MAX_REQUESTS]),
            waited_s=LOAD_SECONDS, fired=find_tags(requests), lost=tuple(lost[:MAX_LOST]),
            spots=spots_in(phone_given["spots"]),
        )  # fmt: skip
        return BrowserVisit(rendered, pictures)

    def _open(self, url: str, size: tuple[int, int], *, mobile: bool, slow: bool) -> tuple[bytes, dict[str, Any]]:
        tell = self._tell
        tell(
            "Emulation.setDeviceMetricsOverride",
            {"width": size[0], "height": size[1], "deviceScaleFactor": 1, "mobile": mobile},
        )
        tell("Network.enable", {})
        tell("Network.setCacheDisabled", {"cacheDisabled": True})
        line = (LATENCY_MS, DOWN_BYTES_S, UP_BYTES_S) if slow else (0, -1, -1)
        tell(
            "Network.emulateNetworkConditions",
            {"offline": False, "latency": line[0], "downloadThroughput": line[1], "uploadThroughput": line[2]},
        )
        self._driver.get(url)
        self._session.wait()
        self._close_others()
        metrics = self._driver.execute_async_script(LOOK, MAX_HTML)
        shot = tell("Page.captureScreenshot", {"format": "webp", "quality": QUALITY})
        return base64.b64decode(shot["data"]), metrics

    def _close_others(self) -> None:
        """Close the windows that the page opened: in front of it they would keep it from being drawn."""
        first, *others = self._driver.window_handles
        for handle in others[:MAX_WINDOWS]:
            self._driver.switch_to.window(handle)
            self._driver.close()
        if others:
            self._driver.switch_to.window(first)
            self._tell("Page.bringToFront", {})

    def _requests(self) -> tuple[list[str], list[Subresource]]:
        """(addresses of everything the page asked for, scripts and style sheets that did not come)."""
        entries = self._driver.execute("getLog", {"type": "performance"})["value"]
        return sort_log(json.loads(entry["message"])["message"] for entry in entries)


def spots_in(raw: object) -> tuple[Spot, ...]:
    """What the page's own script engine says of places in the picture, as far as it makes sense: a page can answer anything."""
    found = []
    for item in raw if isinstance(raw, list) else ():
        with contextlib.suppress(TypeError, ValueError, KeyError, OverflowError):
            x, y, width, height = (int(item[name]) for name in ("x", "y", "width", "height"))
            if 0 <= x < x + width <= PHONE_PX[0] + 1 and 0 <= y < y + height <= PHONE_PX[1] + 1:
                found.append(Spot(SpotKind(item["kind"]), x, y, width, height, str(item["text"])[:MOST_TEXT]))
    return tuple(found[:MOST_SPOTS])


def sort_log(messages: Iterable[Mapping[str, Any]]) -> tuple[list[str], list[Subresource]]:
    """Sort the browser's network log: (addresses asked for, scripts and style sheets that failed, were refused or answered with
    an error). What the page itself gave up does not count."""
    asked: dict[str, str] = {}
    lost: dict[str, Subresource] = {}
    for message in messages:
        params = message["params"]
        number, kind = str(params.get("requestId", "")), LOST_KINDS.get(str(params.get("type", "")))
        if message["method"] == "Network.requestWillBeSent":
            asked[number] = str(params["request"]["url"])[:500]
            continue
        failed = message["method"] == "Network.loadingFailed" and not params.get("canceled")
        refused = message["method"] == "Network.responseReceived" and params["response"]["status"] >= 400
        if kind and (failed or refused) and number in asked:
            lost[asked[number]] = Subresource(asked[number], kind, True)
    return [url for url in dict.fromkeys(asked.values()) if url.startswith("http")], list(lost.values())
