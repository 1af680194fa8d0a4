"""Make the world: one seed, the same bytes each time.

Files: `sites.json`, `listings.json`, `map.json`, `directory.json`, `social.json`, `companies.json`, `people.json`, `zone.json` for the servers, `ground.geojson` and `places.json` for the application's
map, and `truth.json`, which only tests and benchmarks read.
"""

import json
import random
from dataclasses import asdict
from pathlib import Path
from typing import Any

from openacorn.sim import names
from openacorn.sim.addresses import PLAIN_ADDRESS, REFUSING_ADDRESS, SITES_ADDRESS
from openacorn.sim.archetypes import ARCHETYPES, draw_features, draw_more, draw_untidy
from openacorn.sim.business import Business
from openacorn.sim.coast import TOWNS, Town, ground, places, regions, shore_longitude
from openacorn.sim.company_register import companies
from openacorn.sim.directory_site import HOST as DIRECTORY_HOST
from openacorn.sim.domain_registry import HOST as REGISTRY_HOST
from openacorn.sim.guild_site import HOST as GUILD_HOST
from openacorn.sim.listings import list_business, strangers
from openacorn.sim.neighbours import make_chains, make_offices
from openacorn.sim.other_sources import directory_row, map_element, social_page
from openacorn.sim.people_directory import persons
from openacorn.sim.scripts import CONTAINER_HOST
from openacorn.sim.site import TLS_FAULTS, Site
from openacorn.sim.truth import listing_truth, no_site_truth, site_truth, social_truth, unlisted_truth

SEED = 20260902
VERSION = 5
"""Rises when the same seed makes other files than before."""

PER_TRADE = 200
TRADE_LABELS = {
    "vets": "Vet", "florists": "Florist", "opticians": "Optician", "locksmiths": "Locksmith", "bicycle-shops": "Bicycle shop",
    "driving-schools": "Driving school", "dry-cleaners": "Dry cleaner", "upholsterers": "Upholsterer",
    "tree-surgeons": "Tree surgeon", "boatyards": "Boatyard", "photographers": "Photographer", "physiotherapists": "Physiotherapist",
}  # fmt: skip


class _Maker:
    def __init__(self, seed: int) -> None:
        self.rng = random.Random(seed)
        self.phones = names.Phones(self.rng)
        self.taken_names: set[str] = set()
        self.taken_hosts: set[str] = set()
        self.mobile_serial = 0
        self.sites: list[Site] = []

    def place(self, town: Town) -> tuple[float, float]:
        """A pin near the town's middle, on land."""
        while True:
            lat = town.lat + self.rng.gauss(0, town.radius_km * 0.42) / 111
            lon = town.lon + self.rng.gauss(0, town.radius_km * 0.42) / 88.6
            if lon < shore_longitude(lat) - 0.001:
                return round(lat, 6), round(lon, 6)

    def name(self, trade: str, town: Town) -> tuple[str, str]:
        """(a name that nobody else on the coast has, the owner's name)."""
        rng = self.rng
        while True:
            first, last = rng.choice(names.FIRST), rng.choice(names.LAST)
            noun = rng.choice(names.TRADE_NOUNS[trade])
            name = rng.choice(
                (f"{last} {noun}", f"{last} & {rng.choice(names.LAST)} {noun}", f"{rng.choice(names.EPITHETS)} {noun}",
                 f"{town.name} {noun}", f"{rng.choice(town.districts)} {noun}", f"{first}'s {noun}",
                 f"{rng.choice(names.EPITHETS)} {rng.choice(names.STREETS)} {noun}", f"{first} {last} {noun}")
            )  # fmt: skip
            if name not in self.taken_names:
                self.taken_names.add(name)
                return name, f"{first} {last}"

    def host(self, name: str, archetype: str) -> str:
        """A host name that nobody else has."""
        stem = names.slug(name)[:28]
        suffix = f".{self.rng.choice(('tidepages', 'shopfront'))}.example" if archetype == "builder" else ".example"
        host, number = stem + suffix, 2
        while host in self.taken_hosts:
            host, number = f"{stem}{number}{suffix}", number + 1
        self.taken_hosts.add(host)
        return host

    def phone(self) -> str:
        """One in five has a mobile; there are only 30 for fiction, so they come round again."""
        if self.rng.random() < 0.2:
            self.mobile_serial += 1
            return self.phones.mobile(self.mobile_serial)
        return self.phones.landline()

    def business(self, number: int, trade: str, town: Town) -> Business:
        rng = self.rng
        name, owner = self.name(trade, town)
        lat, lon = self.place(town)
        kind, _ = rng.choice(names.STREET_KINDS)
        made = Business(
            id=number, name=name, trade=trade, town=town.name, postcode=town.postcode,
            street=f"{rng.randint(1, 180)} {rng.choice(names.STREETS)} {kind}", lat=lat, lon=lon, phone=self.phone(), owner=owner,
            website="", host="", archetype="no_site", reviews=int(rng.lognormvariate(2.9, 1.2)), rating=round(min(5, max(2.2, rng.gauss(4.3, 0.5))), 1),
            staff=rng.choice(("1", "2-4", "2-4", "5-9", "10-19", "20+")), price=rng.choice((1, 2, 2, 3, 4)), closed=rng.random() < 0.025,
        )  # fmt: skip
        roll = rng.random()
        if roll < 0.17:
            return made
        if roll < 0.23:
            made.archetype = "social_only"
            made.website = f"https://www.facebook.com/{names.slug(name)[:24]}"
            return made
        return self.with_site(made, town)

    def with_site(self, made: Business, town: Town) -> Business:
        rng = self.rng
        archetype, _, change = rng.choices(ARCHETYPES, weights=[weight for _, weight, _ in ARCHETYPES])[0]
        made.archetype, made.host = archetype, self.host(made.name, archetype)
        mailbox = rng.choice(
            ("info", "hello", "office", names.slug(made.owner.split()[0]), names.slug(made.owner.split()[0]))
        )
        site = Site(
            host=made.host, name=made.name, trade=TRADE_LABELS[made.trade], town=town.name, street=made.street, phone=made.phone,
            phone_style=rng.randrange(4), email=f"{mailbox}@{made.host}", owner_name=made.owner,
        )  # fmt: skip
        draw_features(site, rng)
        change(site, rng)
        self.sites.append(site)
        scheme = "http" if site.transport == "plain_http" else rng.choice(("https", "https", "http"))
        host = site.host
        if site.transport == "redirect_other":
            host = site.redirect_to
        if site.transport in TLS_FAULTS:
            scheme = "https"  # listed by the secure address, or nobody would meet the fault
        site.listed_scheme, site.forces_https = scheme, rng.random() < 0.75
        made.website = f"{scheme}://{host}/"
        return made


def make_businesses(seed: int, per_trade: int) -> tuple[list[Business], list[Site]]:
    """Draw all businesses and their sites, trade by trade, spread over the towns by residents."""
    maker = _Maker(seed)
    businesses: list[Business] = []
    for trade in TRADE_LABELS:
        for _ in range(per_trade):
            town = maker.rng.choices(TOWNS, weights=[town.residents for town in TOWNS])[0]
            businesses.append(maker.business(len(businesses) + 1, trade, town))
    _borrow_sites(businesses, maker.rng)
    apart = random.Random(seed + 2)  # of its own, so that nothing above is drawn otherwise
    make_chains(businesses, apart)
    make_offices(businesses, apart)
    later = random.Random(seed + 5)
    _hide_sites(businesses, maker, later)
    for site in maker.sites:
        draw_more(site, later)
    last = random.Random(seed + 7)
    for site in maker.sites:
        draw_untidy(site, last)
    return businesses, maker.sites


def _borrow_sites(businesses: list[Business], rng: random.Random) -> None:
    """A few listings give somebody else's site."""
    with_sites = [business for business in businesses if business.host and not business.closed]
    for business in businesses:
        if business.archetype == "no_site" and rng.random() < 0.08:
            other = rng.choice(with_sites)
            business.website, business.wrong_site, business.archetype = other.website, True, "someone_else"
            business.host = other.host


def _hide_sites(businesses: list[Business], maker: _Maker, rng: random.Random) -> None:
    """A few who seem to have no site have one that no listing gives, at their name."""
    for business in businesses:
        host = f"{names.slug(business.name)}.example"
        if business.archetype == "no_site" and len(host) < 40 and host not in maker.taken_hosts and rng.random() < 0.12:
            maker.taken_hosts.add(host)
            business.archetype, business.host = "unlisted", host
            site = Site(
                host=host, name=business.name, trade=TRADE_LABELS[business.trade], town=business.town, street=business.street,
                phone=business.phone, phone_style=rng.randrange(4), email=f"info@{host}", owner_name=business.owner,
            )  # fmt: skip
            draw_features(site, rng)
            maker.sites.append(site)


def _truth(businesses: list[Business], sites: list[Site], owners: dict[str, dict[str, int | None]]) -> dict[str, Any]:
    """`owners`: source → what it calls a listing → the business it is about (None: a stranger)."""
    by_host = {site.host: site for site in sites}
    rows = []
    for business in businesses:
        if business.archetype == "unlisted":
            checks = unlisted_truth(by_host[business.host], business)
        elif not business.website:
            checks = no_site_truth()
        elif business.archetype == "social_only":
            checks = social_truth()
        else:
            site = by_host[business.host]
            checks = site_truth(site) | listing_truth(site, business)
        rows.append(
            asdict(business) | {"checks": {check: [a.outcome, a.decidable] for check, a in sorted(checks.items())}}
        )
    return {"businesses": rows, "listing_owner": owners}


def _write(path: Path, value: Any) -> None:
    path.write_text(
        json.dumps(value, ensure_ascii=False, sort_keys=True, separators=(",", ":")) + "\n", encoding="utf-8"
    )


def make_world(folder: Path, *, seed: int = SEED, per_trade: int = PER_TRADE) -> None:
    """Write the world's files into `folder`."""
    folder.mkdir(parents=True, exist_ok=True)
    businesses, sites = make_businesses(seed, per_trade)
    rng = random.Random(seed + 1)
    listings = [row for business in businesses for row in list_business(business, rng)]
    listings += strangers(rng, len(businesses))
    rng.shuffle(listings)
    others = _other_sources(businesses, random.Random(seed + 3))
    owners: dict[str, dict[str, int | None]] = {"listing_service": {row["id"]: row["_business"] for row in listings}}
    owners["map_data"] = {f"{row['type'][0]}{row['id']}": row["_business"] for row in others["map"]}
    others["companies"] = companies(businesses, random.Random(seed + 4))
    others["people"] = persons(businesses, random.Random(seed + 6))
    owners["people_directory"] = {row["id"]: row["_business"] for row in others["people"]}
    owners["company_register"] = {row["number"]: row["_business"] for row in others["companies"]}
    owners["social_pages"] = {row["id"]: row["_business"] for row in others["social"]}
    owners["directory"] = {
        f"{row['name']} | {row['street']} {row['postcode']}": row["_business"] for row in others["directory"]
    }
    _write(folder / "truth.json", _truth(businesses, sites, owners))
    for name, rows in {"listings": listings, **others}.items():
        _write(folder / f"{name}.json", [{k: v for k, v in row.items() if k != "_business"} for row in rows])
    _write(folder / "sites.json", [site.as_json() for site in sites])
    _write(folder / "zone.json", zone(sites))
    _write(folder / "records.json", records(sites))
    _write(folder / "mailboxes.json", mailboxes(sites))
    _write(folder / "ground.geojson", ground())
    _write(folder / "places.json", places())
    _write(folder / "regions.json", regions())


def _other_sources(businesses: list[Business], rng: random.Random) -> dict[str, list[dict[str, Any]]]:
    """File → rows of the map, the directory and the social pages."""
    makers = {"map": map_element, "directory": directory_row, "social": social_page}
    found: dict[str, list[dict[str, Any]]] = {}
    for name, make in makers.items():
        found[name] = [row for business in businesses if (row := make(business, rng)) is not None]
        rng.shuffle(found[name])
    return found


def mailboxes(sites: list[Site]) -> dict[str, dict[str, Any]]:
    """Domain → its mailboxes, and how its mail server answers: "plain", "all" (takes any address) or "grey"."""
    modes = ("plain", "plain", "plain", "plain", "plain", "all", "grey", "plain")
    return {
        site.host: {"boxes": [site.email.partition("@")[0]] if site.seed % 9 else [], "mode": modes[site.seed % 8]}
        for site in sites
        if site.mx
    }


SPF = {
    "hard": ["v=spf1 mx include:_spf.saltmail.example -all"], "soft": ["v=spf1 a mx ~all"], "neutral": ["v=spf1 mx ?all"],
    "open": ["v=spf1 +all"], "two": ["v=spf1 mx -all", "v=spf1 a ~all"], "": [],
}  # fmt: skip
DMARC = {
    "reject": ["v=DMARC1; p=reject; rua=mailto:reports@saltmail.example"], "none": ["v=DMARC1; p=none"],
    "two": ["v=DMARC1; p=none", "v=DMARC1; p=reject"], "": [],
}  # fmt: skip


def records(sites: list[Site]) -> dict[str, dict[str, list[str]]]:
    """Name → kind → records of mail, for the name server."""
    found: dict[str, dict[str, list[str]]] = {}
    for site in sites:
        if site.transport == "nxdomain":
            continue
        domain = site.host
        texts = [f"site-verification={site.seed}", *SPF[site.spf]]
        found[domain] = {"TXT": texts, "MX": ["10 mx1.saltmail.example", "20 mx2.saltmail.example"] if site.mx else []}
        if DMARC[site.dmarc]:
            found[f"_dmarc.{domain}"] = {"TXT": DMARC[site.dmarc]}
    return found


def zone(sites: list[Site]) -> dict[str, str]:
    """Host → address, for the name server; what is not in it does not exist."""
    found = {
        "shared.tidepages.example": SITES_ADDRESS,
        DIRECTORY_HOST: SITES_ADDRESS,
        GUILD_HOST: SITES_ADDRESS,
        REGISTRY_HOST: SITES_ADDRESS,
        CONTAINER_HOST: SITES_ADDRESS,
        "mx1.saltmail.example": SITES_ADDRESS,
        "mx2.saltmail.example": SITES_ADDRESS,
    }
    for site in sites:
        if site.transport == "nxdomain":
            continue
        address = {"refused": REFUSING_ADDRESS, "plain_http": PLAIN_ADDRESS}.get(site.transport, SITES_ADDRESS)
        found[site.host] = address
        if site.redirect_to:
            found[site.redirect_to] = SITES_ADDRESS
    return found
