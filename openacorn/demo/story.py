"""What the agency did in its first two months, played at its own desk: nothing here writes past the application."""

import random
import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from datetime import timedelta
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

from openacorn import clock
from openacorn.demo.desk import Desk
from openacorn.sim.addresses import POST_HOST, POST_PASSWORD
from openacorn.sim.coast import TOWNS

Shown = Callable[[str, dict[str, Any]], None]
FIRST_DAY = 33
"""Days ago when the agency began."""

WRITTEN_TO = 31
"""Days ago when the first sequence began; it goes on for eight days."""

TEAM = ("Ada", "Ines", "Tomas")
AROUND_M = 4500.0
LOOKS = 20
"""Sites of the best offers of which pictures are taken."""

ENDS = (("not interested", 0.16), ("refused", 0.2), ("lost", 0.5), ("proposed", 1.0))
"""How talks go on → up to which share of them."""

WON_SHARE = 0.6
"""Of the proposals that were answered."""


def _areas(count: int) -> list[dict[str, Any]]:
    return [{"name": t.name, "lat": t.lat, "lon": t.lon, "radius_m": AROUND_M} for t in TOWNS[:count]]


SWEEPS: tuple[tuple[str, dict[str, Any]], ...] = (
    (
        f"Opticians and vets around {TOWNS[0].name}",
        {
            "trades": ["opticians", "vets"], "areas": _areas(1), "place": TOWNS[0].name,
            "sources": ["listing_service", "map_data", "company_register", "people_directory"],
            "facts": ["website", "contacts", "mailboxes", "rank", "people", "company"],
        },
    ),
    (
        "Florists of two towns",
        {
            "trades": ["florists"], "areas": _areas(2), "place": " and ".join(t.name for t in TOWNS[:2]),
            "sources": ["listing_service", "map_data"], "facts": ["website", "contacts"],
        },
    ),
)  # fmt: skip

ROUNDS = (
    ("Opticians: first round", "opticians", 34, 28),
    ("Vets: slow and not secure", "vets", 34, 20),
    ("Florists before the holidays", "florists", 24, 11),
)
"""Name of a list, its trade, how many are on it, and how many days ago it was begun."""

MAILBOXES = [
    {"address": f"{name.lower()}@wrenfold.example", "name": f"{name}, Wrenfold Studio", "smtp_host": POST_HOST,
     "imap_host": POST_HOST, "daily_limit": 20, "password": POST_PASSWORD}
    for name in ("Ada", "Ines", "Tomas")
]  # fmt: skip

NOTES = {
    "no answer": ("", "rang twice", "answering machine"),
    "call back": ("asked to ring again", "owner is away until then"),
    "mailed": ("sent the page", "sent two screenshots"),
    "talking": ("wants prices", "likes the findings page", "asked for two examples nearby"),
    "proposed": ("sent the proposal", "proposal for site and upkeep"),
    "won": ("starts next week", "signed"),
    "lost": ("does it with a cousin", "went with somebody else"),
    "not interested": ("happy as it is", "perhaps next year"),
    "refused": ("do not ring again",),
}


@dataclass
class Story:
    """The two months, as far as they have been played."""

    desk: Desk
    folder: Path
    shown: Shown
    _offers: dict[int, str] = field(default_factory=dict)
    """Business → the service that it is offered."""
    chance: random.Random = field(default_factory=lambda: random.Random(1180))

    def _at(self, days: float) -> None:
        """It is so many days before today."""
        clock.set_back(timedelta(days=days))

    def _sweep(self, sweep_id: int, name: str) -> None:
        run = self.desk.post(f"/sweeps/{sweep_id}/runs")["run_id"]
        self.desk.finish(run, lambda state: self.shown(name, state))

    def first_month(self) -> None:
        """The first sweeps, who is known already, three rounds of contacting."""
        self._at(FIRST_DAY)
        for name, plan in SWEEPS:
            made = self.desk.post("/sweeps", {"name": name, "plan": plan, "start": False})
            self._sweep(made["sweep_id"], name)
        self._known_already()
        self.desk.post("/angles", {
            "name": "No website, can be phoned", "service": "new_website",
            "line": "People find your number, and no website to look at before they ring.",
            "filter": {"has": "phone", "website": "none"},
        })  # fmt: skip
        self._write_to_some()
        for name, trade, size, days in ROUNDS:
            self._at(days)
            self._round(name, trade, size, days)
        self.desk.post("/notices/seen")

    def _known_already(self) -> None:
        """The agency's clients and those who asked not to be contacted, as it had them in a list."""
        rows = self.desk.rows("name,town,phone", 12, sort="name")
        clients = "\n".join(f"{name}, {town}" for name, town, *_ in rows[:4])
        refused = "\n".join(phone for _, _, phone, *_ in rows[4:9] if phone)
        self.desk.post("/relationships", {"kind": "client", "text": clients})
        if refused:
            self.desk.post("/relationships", {"kind": "refused", "text": refused})

    def _write_to_some(self) -> None:
        """Three mailboxes, and a sequence of e-mails and a call to those who are on no other list."""
        for box in MAILBOXES:
            self.desk.put("/mailboxes", box)
        self._at(WRITTEN_TO)
        self.desk.put("/sending", {"post_address": "4 Harbour Road, Port Ellery", "by_hand": 0})
        ids = [
            row[0]
            for _, trade, size, _ in ROUNDS[:2]
            for row in self.desk.rows("id", 200, trade=trade, sort="-value")[size:]
        ]
        number = self.desk.post("/shortlists", {"name": "Opticians and vets to write to"})["id"]
        self.desk.post(f"/shortlists/{number}/members", {"ids": ids})
        sequence = next(item["id"] for item in self.desk.get("/sequences") if item["name"] == "E-mail, then call")
        self.desk.post(f"/sequences/{sequence}/enrolments", {"shortlist": number, "by": "Ines"})
        self.desk.post("/demo/hours?hours=192")
        self.desk.put("/sending", {"post_address": "4 Harbour Road, Port Ellery"})

    def _round(self, name: str, trade: str, size: int, days: int) -> None:
        """A list is begun, its businesses are shared out, and called over the days that follow."""
        rows = self.desk.rows("id,offer", size, trade=trade, sort="-value")
        ids = [row[0] for row in rows]
        self._offers |= {row[0]: row[1] for row in rows}
        number = self.desk.post("/shortlists", {"name": name})["id"]
        self.desk.post(f"/shortlists/{number}/members", {"ids": ids})
        for turn, person in enumerate(TEAM):
            self.desk.post(f"/shortlists/{number}/members/move", {"ids": ids[turn::3], "owner": person, "by": "Ada"})
        share = ids[: max(2, size // 8)]
        pages = self.desk.post("/owner-pages", {"ids": share, "share": True, "by": "Ada"})
        self.desk.finish(pages["run_id"])
        called = ids[:-2] if days > 15 else ids[: size * 2 // 3]
        for day, turn in self._over_days(len(called), days):
            self._at(day)
            self._contact(called[turn], TEAM[turn % 3], last=days < 15)
        if days > 15:
            parked = {"ids": ids[-2:], "stage": "parked", "by": "Ada"}
            self.desk.post(f"/shortlists/{number}/members/move", parked)
        for turn, business in enumerate(share):
            self._owner_reads(business, max(0.5, days - 2 - turn), writes=turn == 0 and days > 15)

    def _over_days(self, count: int, begun: int) -> Iterator[tuple[float, int]]:
        """(days ago, whose turn) of so many calls in the days after a list was begun."""
        span = min(begun - 1, 12)
        for turn in range(count):
            yield begun - 0.2 - span * turn / count, turn

    def _contact(self, business: int, by: str, *, last: bool) -> None:
        """One contact and its result; a business in conversation is talked to again. last: in the round still under way."""
        say, roll = self._say, self.chance.random()
        if roll < 0.2:
            say(business, "no answer", by)
        if roll < 0.35:
            again = self._day(self.chance.choice((0, 0, 1, 3))) if last else self._soon()
            say(business, "call back", by, follow_up=again)
        elif roll < 0.45:
            say(business, "mailed", by)
        else:
            say(business, "talking", by, follow_up=self._day(self.chance.choice((0, 1))) if last else self._soon())
        if roll < (0.6 if last else 0.12):
            return
        turn = self.chance.random()
        end = next(result for result, upto in ENDS if turn < upto)
        if end != "proposed":
            say(business, end, by)
            return
        say(business, end, by, follow_up=self._day(2) if last else self._soon())
        if last:
            return
        if self.chance.random() < WON_SHARE:
            say(business, "won", by, amount=self.chance.choice((900, 2400, 2900, 3400)))
        else:
            say(business, "lost", by)

    def _soon(self) -> str:
        """A day soon after the one being played (ISO 8601)."""
        return (clock.now() + timedelta(days=3)).date().isoformat()

    def _day(self, ahead: int) -> str:
        """A day from the real today on (ISO 8601)."""
        return (clock.now() + clock.behind() + timedelta(days=ahead)).astimezone().date().isoformat()

    def _say(self, business: int, result: str, by: str, **more: Any) -> None:
        told = {
            "result": result,
            "by": by,
            "note": self.chance.choice(NOTES[result]),
            "service": self._offers[business],
            **more,
        }
        self.desk.post(f"/businesses/{business}/contacts", {key: value for key, value in told.items() if value})

    def _owner_reads(self, business: int, days: float, *, writes: bool) -> None:
        """An owner opens the page that was sent; some write back."""
        self._at(days)
        page = self.desk.get(f"/businesses/{business}/owner-page")
        path = urlsplit(page["address"]).path
        shown = self.desk.open_page(path)
        stamp = re.search(r'name="opened" value="([^"]+)"', shown)
        if not writes or stamp is None:
            return
        self._at(days - 0.003)
        self.desk.open_page(f"{path}/reply", {
            "name": "Petra", "reach": "0491 570 006", "text": "Thank you, I had no idea. Please ring me on Thursday morning.",
            "opened": stamp.group(1), "company": "",
        })  # fmt: skip

    def second_month(self) -> None:
        """The same sweeps again; what is regular by now."""
        self._at(0.05)
        sweeps = {item["name"]: item["id"] for item in self.desk.get("/sweeps")}
        (first, _), (last, _) = SWEEPS
        self._sweep(sweeps[first], f"{first}, a month later")
        self._bring_a_list()
        # the pictures are taken while one looks around
        self.desk.put("/settings", {"values": {"browser_looks": LOOKS}})
        self._sweep(sweeps[last], f"{last}, a month later")
        self.desk.put(f"/sweeps/{sweeps[first]}/schedule", {"every": "monthly", "at": f"{self._day(27)}T06:30"})
        wanted = {"filter": {"trade": "florists"}, "columns": ["name", "town", "phone", "emails"]}
        self.desk.post("/presets", {"name": "New florists", "format": "csv", "only_new": True, "link": True, **wanted})
        delivered = {
            "name": "To the mailing house",
            "format": "csv",
            "folder": str(self.folder / "deliveries"),
            **wanted,
        }
        self.desk.post(f"/presets/{self.desk.post('/presets', delivered)['id']}/deliver")

    def _bring_a_list(self) -> None:
        """A list from a trade fair; one of its firms may be one that is known already, under another number."""
        ((name, town, street),) = (row[:3] for row in self.desk.rows("name,town,street", 1, trade="vets", sort="name"))
        twice = f'{name} Ltd,{town},"{street}",(03) 5550 1171\n{name},{town},,\n'
        text = f"Firm,Town,Address,Phone\n{twice}Sandpiper Pet Supplies,{town},3 Quay Road,(03) 5550 1199\n"
        found = self.desk.post("/imports?name=Pet%20fair.csv", text)
        agreed = {"title": "Pet fair", "columns": found["columns"], "trade": "vets"}
        self.desk.finish(self.desk.post(f"/imports/{found['id']}/start", agreed)["run_id"])
