"""The simulated traders' guild: a directory behind a log-in, searched by a form, whose further rows a button loads as JSON."""

import json
from html import escape
from pathlib import Path
from urllib.parse import parse_qs, quote_plus, urlsplit

from openacorn.sim.directory_site import FOOT, HEAD, Directory
from openacorn.sim.http import Asked, Reply

HOST = "guild.tarrowpages.example"
USER, PASSWORD, SESSION = "wrenfold", "kelp-and-salt", "a1b2c3d4"
PAGE = 15


class Guild:
    """Answers for the guild's host; it lists what the directory lists."""

    def __init__(self, world: Path) -> None:
        self._directory = Directory(world)

    def handle(self, asked: Asked) -> Reply:
        """Answer one request."""
        path = urlsplit(asked.target).path
        sent = {name: values[0] for name, values in parse_qs(asked.body.decode()).items()}
        query = {name: values[0] for name, values in parse_qs(urlsplit(asked.target).query).items()}
        if path == "/robots.txt":
            return Reply(200, b"User-agent: *\nAllow: /\n", "text/plain")
        if path == "/login":
            return self._log_in(asked, sent)
        if f"session={SESSION}" not in asked.headers.get("cookie", ""):
            return Reply(302, headers={"Location": "/login"})
        if path == "/find" and asked.method == "POST":
            what, where = sent.get("what", ""), sent.get("where", "")
            rows = self._rows(what, where, 0)
            page = HEAD.format(title="Members") + f"<div id='members'>{rows}</div>" + FOOT
            return Reply(200, page.encode())
        if path == "/more":
            rows = self._rows(query.get("what", ""), query.get("where", ""), int(query.get("from", "0")))
            return Reply(200, json.dumps({"ok": True, "rows": rows}).encode(), "application/json")
        return Reply(404, b"<h1>Not found</h1>")

    def _log_in(self, asked: Asked, sent: dict[str, str]) -> Reply:
        form = (
            '<form method="post"><input name="user"><input name="pass" type="password"><button>Log in</button></form>'
        )
        if asked.method != "POST":
            return Reply(200, (HEAD.format(title="Log in") + form + FOOT).encode())
        if (sent.get("user"), sent.get("pass")) != (USER, PASSWORD):
            return Reply(200, (HEAD.format(title="Log in") + "<p>Wrong name or password</p>" + form + FOOT).encode())
        return Reply(302, headers={"Location": "/", "Set-Cookie": f"session={SESSION}; Path=/; HttpOnly"})

    def _rows(self, what: str, where: str, start: int) -> str:
        _, found = self._directory.found(what, where)
        rows = "".join(
            f'<article class="member"><h4>{escape(row["name"])}</h4><address>{escape(row["street"])}</address>'
            f'<span class="code">{row["postcode"]}</span><span class="tel">{row["phone"]}</span></article>'
            for row in found[start : start + PAGE]
        )
        if start + PAGE >= len(found):
            return rows
        there = f"/more?what={quote_plus(what)}&amp;where={quote_plus(where)}&amp;from={start + PAGE}"
        return rows + f'<button class="more" data-more="{there}">Show more members</button>'
