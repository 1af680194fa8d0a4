"""Figures for those who watch over the installation, as Prometheus reads them: no names, no addresses of people or businesses."""

import time

from prometheus_client import CollectorRegistry, Gauge, Histogram, generate_latest
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from openacorn.business.store import counts
from openacorn.db.database import Database

STEPS_S = (0.005, 0.01, 0.025, 0.05, 0.1, 0.15, 0.3, 0.6, 1.2, 2.5, 5, 10)


class Metrics:
    """What is counted while the application runs."""

    def __init__(self) -> None:
        self._registry = CollectorRegistry()
        self.requests = Histogram(
            "acorn_request_seconds",
            "Time to an answer's first byte",
            ("method", "route", "status"),
            registry=self._registry,
            buckets=STEPS_S,
        )
        self._counts = {
            name: Gauge(name, meaning, registry=self._registry) for name, meaning in counts.MEANINGS.items()
        }

    def page(self, database: Database) -> bytes:
        """All of it, in Prometheus' text format 0.0.4. Blocks."""
        with database.read() as conn:
            found = counts.count_all(conn)
        for name, number in found.items():
            self._counts[name].set(number)
        return generate_latest(self._registry)


class Measure:
    """Notes how long each request took, under its route and not its address: an address may name somebody."""

    def __init__(self, app: ASGIApp, metrics: Metrics) -> None:
        self._app, self._metrics = app, metrics

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, and note how long it took."""
        if scope["type"] != "http" or not scope["path"].startswith("/api/"):
            return await self._app(scope, receive, send)
        began = time.perf_counter()

        async def noted(message: Message) -> None:
            if message["type"] == "http.response.start":
                route = getattr(scope.get("route"), "path", "unknown")
                labels = (scope["method"], route, str(message["status"]))
                self._metrics.requests.labels(*labels).observe(time.perf_counter() - began)
            await send(message)

        await self._app(scope, receive, noted)
