"""The simulated directory: a search form, pages of results, schema.org microdata for some trades and bare markup for others."""

import json
from html import escape
from pathlib import Path
from typing import Any
from urllib.parse import parse_qs, quote_plus, urlsplit

from openacorn.sim.http import Asked, Reply
from openacorn.sim.listings import trade_searched

HOST = "tarrowpages.example"
PAGE = 25
MARKED = frozenset({"vets", "florists", "opticians", "locksmiths", "bicycle-shops", "driving-schools"})
"""Trades whose results carry microdata; the others' are bare."""

HEAD = '<!doctype html><html lang="en"><head><meta charset="utf-8"><title>{title}</title></head><body><header><a class="logo" href="/">Tarrow Pages</a><nav><a href="/about">About</a><a href="/add">List your business</a></nav></header>'
FOOT = "<footer><p>Tarrow Pages, since 1931.</p></footer></body></html>"


class Directory:
    """Answers for the directory's host."""

    def __init__(self, world: Path) -> None:
        self.rows: list[dict[str, Any]] = json.loads((world / "directory.json").read_text(encoding="utf-8"))

    def handle(self, asked: Asked) -> Reply:
        """Answer one request."""
        parts = urlsplit(asked.target)
        if parts.path == "/robots.txt":
            return Reply(200, b"User-agent: *\nDisallow: /admin/\n", "text/plain")
        if parts.path == "/":
            form = '<form action="/search"><input name="what"><input name="where"><button>Find</button></form>'
            return Reply(200, (HEAD.format(title="Tarrow Pages") + form + FOOT).encode())
        if parts.path != "/search":
            return Reply(404, b"<h1>Not found</h1>")
        query = {name: values[0] for name, values in parse_qs(parts.query).items()}
        return Reply(
            200, self._results(query.get("what", ""), query.get("where", ""), int(query.get("page", "1") or 1)).encode()
        )

    def found(self, what: str, where: str) -> tuple[str, list[dict[str, Any]]]:
        """(trade, its rows in a town, by name)."""
        trade = trade_searched(what)
        rows = [row for row in self.rows if row["trade"] == trade and row["town"].lower() == where.strip().lower()]
        return trade, sorted(rows, key=lambda row: row["name"].lower())

    def _results(self, what: str, where: str, page: int) -> str:
        trade, rows = self.found(what, where)
        shown = rows[(page - 1) * PAGE : page * PAGE]
        items = "".join(_marked(row) if trade in MARKED else _bare(row) for row in shown)
        more = ""
        if page * PAGE < len(rows):
            there = f"/search?what={quote_plus(what)}&amp;where={quote_plus(where)}&amp;page={page + 1}"
            more = f'<nav class="pager"><a class="pager-next" rel="next" href="{there}">Next</a></nav>'
        head = f"<h1>{escape(what.title())} in {escape(where)}</h1><p class='count'>{len(rows)} found</p>"
        return (
            HEAD.format(title=escape(f"{what} in {where}")) + head + f'<ul class="results">{items}</ul>' + more + FOOT
        )


def _marked(row: dict[str, Any]) -> str:
    site = f'<a itemprop="url" href="{escape(row["website"])}">Website</a>' if row["website"] else ""
    mail = f'<a itemprop="email" href="mailto:{escape(row["email"])}">E-mail</a>' if row["email"] else ""
    phone = f'<span itemprop="telephone">{escape(row["phone"])}</span>' if row["phone"] else ""
    return (
        f'<li class="result" itemscope itemtype="https://schema.org/LocalBusiness"><h2 itemprop="name">{escape(row["name"])}</h2>'
        f'<div itemprop="address" itemscope itemtype="https://schema.org/PostalAddress"><span itemprop="streetAddress">{escape(row["street"])}</span>, '
        f'<span itemprop="addressLocality">{escape(row["town"])}</span> <span itemprop="postalCode">{row["postcode"]}</span></div>{phone} {mail} {site}</li>'
    )


def _bare(row: dict[str, Any]) -> str:
    site = f'<a class="out" href="{escape(row["website"])}" rel="nofollow">Visit website</a>' if row["website"] else ""
    mail = f'<a class="mail" href="mailto:{escape(row["email"])}">Write to them</a>' if row["email"] else ""
    phone = f'<span class="tel">{escape(row["phone"])}</span>' if row["phone"] else ""
    return (
        f'<li class="result"><h3 class="result-name">{escape(row["name"])}</h3><p class="result-address">{escape(row["street"])}</p>'
        f'<p><span class="result-town">{escape(row["town"])}</span> <span class="result-postcode">{row["postcode"]}</span></p>{phone}{mail}{site}</li>'
    )
