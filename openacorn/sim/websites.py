"""The coast's websites: every host of the world by Host header and server name, over HTTP and HTTPS."""

import json
import ssl
from functools import lru_cache
from pathlib import Path

from openacorn.sim.authority import Authority
from openacorn.sim.directory_site import HOST as DIRECTORY_HOST
from openacorn.sim.directory_site import Directory
from openacorn.sim.domain_registry import HOST as REGISTRY_HOST
from openacorn.sim.domain_registry import DomainRegistry
from openacorn.sim.guild_site import HOST as GUILD_HOST
from openacorn.sim.guild_site import Guild
from openacorn.sim.http import Asked, Reply
from openacorn.sim.pages import render, render_body
from openacorn.sim.scripts import CONTAINER_HOST, MOODS, STYLE, application, hidden_tags, padded, picture
from openacorn.sim.site import SILENT, TLS_FAULTS, Site

ROBOTS = "User-agent: *\nDisallow: /private/\n"
SHUT_ROBOTS = "User-agent: *\nDisallow: /\n"


class Websites:
    """Answers requests for all sites; `context_for` picks a certificate by server name."""

    def __init__(self, world: Path) -> None:
        rows = json.loads((world / "sites.json").read_text(encoding="utf-8"))
        self.sites = {row["host"]: Site(**row) for row in rows}
        self._managed = {f"{site.seed:06d}": site for site in self.sites.values() if site.manager}
        self.aliases = {site.redirect_to: site for site in self.sites.values() if site.redirect_to}
        self._others = {DIRECTORY_HOST: Directory(world).handle, GUILD_HOST: Guild(world).handle}
        self._others[REGISTRY_HOST] = DomainRegistry(self.sites).handle
        self.authority = Authority(world)
        self._page = lru_cache(maxsize=20_000)(self._render)

    def _render(self, host: str, path: str) -> bytes | None:
        return render(self.sites[host], path)

    def choose_certificate(self, tls: ssl.SSLObject, server_name: str | None, _default: ssl.SSLContext) -> None:
        """Server-name callback: show the host's own certificate, or its fault."""
        host = (server_name or "").lower()
        site = self.sites.get(host)
        fault = (
            site.transport if site and site.transport in TLS_FAULTS else "cert_soon" if site and site.cert_soon else ""
        )
        tls.context = self.authority.context(host or "unnamed.example", fault)

    def handle(self, asked: Asked) -> Reply:
        """Answer one request."""
        if asked.host in self._others:
            return self._others[asked.host](asked)
        if asked.host == CONTAINER_HOST:
            return self._container(asked)
        alias = self.aliases.get(asked.host)
        if alias:
            return Reply(301, headers={"Location": f"https://{alias.host}{asked.target}"})
        site = self.sites.get(asked.host)
        if site is None:
            return Reply(404, b"<h1>No such site here</h1>")
        path = asked.target.partition("?")[0]
        if not asked.secure and site.forces_https and site.transport not in {"plain_http", "timeout", "redirect_loop"}:
            return Reply(301, headers={"Location": f"https://{site.host}{asked.target}"})
        if site.transport == "timeout":
            return Reply(hang=True)
        if path == "/robots.txt":
            return self._robots(site)
        if path in {"/sitemap.xml", "/map-of-pages.xml"} and site.sitemap and site.transport not in SILENT:
            return self._sitemap(site, path)
        return self._fault(site, path) or self._file(site, path) or self._show(site, path, secure=asked.secure)

    def _sitemap(self, site: Site, path: str) -> Reply:
        if (path == "/sitemap.xml") != (site.sitemap == "usual"):
            return Reply(404, b"not found")
        space = "http://www.sitemaps.org/schemas/sitemap/0.9"
        text = f'<?xml version="1.0"?><urlset xmlns="{space}"><url><loc>https://{site.host}/</loc></url></urlset>'
        return Reply(200, text.encode(), "application/xml")

    def _container(self, asked: Asked) -> Reply:
        """A tag manager's container, by its id: it brings in what its owner put into it."""
        site = self._managed.get(asked.target.partition("GTM-K")[2][:6])
        if site is not None and site.blocked:
            return Reply(403, b"blocked", "text/plain")
        return Reply(200, hidden_tags(site).encode() if site else b"/* */", "text/javascript")

    def _robots(self, site: Site) -> Reply:
        if site.transport == "robots":
            return Reply(200, SHUT_ROBOTS.encode(), "text/plain")
        if site.seed % 3 == 0 and site.sitemap != "robots":
            return Reply(404, b"not found", "text/plain")
        named = f"Sitemap: https://{site.host}/map-of-pages.xml\n" if site.sitemap == "robots" else ""
        return Reply(200, (ROBOTS + named).encode(), "text/plain")

    def _fault(self, site: Site, path: str) -> Reply | None:
        if site.transport == "redirect_loop":
            return Reply(302, headers={"Location": "/start" if path != "/start" else "/"})
        statuses = {"forbidden": 403, "error_404": 404, "error_500": 500}
        if site.transport in statuses:
            status = statuses[site.transport]
            return Reply(status, f"<html><title>{status}</title><body><h1>Error {status}</h1></body></html>".encode())
        return None

    def _file(self, site: Site, path: str) -> Reply | None:
        sizes = {
            "/style.css": (site.css_kb, "text/css"),
            "/site.js": (site.js_kb, "text/javascript"),
            "/assets/index.js": (180, "text/javascript"),
        }
        if path.startswith("/img/"):
            sizes[path] = (4 if "number" in path else site.image_kb, "image/jpeg")
        if path not in sizes:
            return None
        kilobytes, kind = sizes[path]
        size = kilobytes * 1000
        headers = {"Cache-Control": "public, max-age=604800"} if site.cached else {}
        return Reply(200, self._content(site, path, size), kind, headers)

    def _content(self, site: Site, path: str, size: int) -> bytes:
        if path.startswith("/img/"):
            return padded(picture((site.seed + sum(path.encode())) % MOODS), size, b"\0")
        if path == "/assets/index.js":
            return padded(application(site, render_body(site)), size)
        own = hidden_tags(site).encode() if site.bundled else b"/* the site's own script */"
        return padded(STYLE if path == "/style.css" else own, size)

    def _show(self, site: Site, path: str, *, secure: bool) -> Reply:
        body = self._page(site.host, path)
        if body is None:
            return Reply(404, b"<h1>Not found</h1>")
        kind = "text/html; charset=utf-8" if site.charset == "utf-8" else "text/html"
        headers = {"Strict-Transport-Security": "max-age=31536000"} if site.hsts and secure else {}
        return Reply(200, body, kind, headers, delay_s=site.delay_s if path == "/" else 0, compress=site.gzip)
