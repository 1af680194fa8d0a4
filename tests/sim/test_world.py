"""The world: the same bytes each time, as varied as it must be, and served over real protocols."""

import hashlib
import json
import urllib.error
import urllib.request
from collections import Counter
from pathlib import Path

import phonenumbers
import pytest
from dnslib import QTYPE, RCODE, DNSRecord

from openacorn.sim.generate import TRADE_LABELS, make_world
from openacorn.sim.listing_server import CAP, KEY
from openacorn.sim.name_server import answer_dns
from openacorn.sim.names import LANDLINE_BLOCKS
from openacorn.sim.pages import render
from openacorn.sim.site import Site
from tests.conftest import Coast

pytestmark = pytest.mark.world


def digest(folder: Path) -> dict[str, str]:
    return {path.name: hashlib.sha256(path.read_bytes()).hexdigest() for path in sorted(folder.iterdir())}


def test_one_seed_makes_the_same_bytes(tmp_path: Path) -> None:
    for name in ("a", "b"):
        make_world(tmp_path / name, per_trade=20)
    make_world(tmp_path / "c", seed=5, per_trade=20)
    assert digest(tmp_path / "a") == digest(tmp_path / "b")
    assert digest(tmp_path / "a")["sites.json"] != digest(tmp_path / "c")["sites.json"]


def test_the_coast_is_as_varied_and_as_untidy_as_real_listings(coast: Coast) -> None:
    truth, listings = coast.read("truth.json"), coast.read("listings.json")
    archetypes = Counter(row["archetype"] for row in truth["businesses"])
    assert len(archetypes) >= 30
    owners = truth["listing_owner"]["listing_service"]
    doubles = [owner for owner, count in Counter(owners.values()).items() if owner and count > 1]
    names = " ".join(row["name"] for row in listings)
    assert len(doubles) > 20
    assert any(row["permanently_closed"] for row in listings)
    assert "&amp;" in names
    assert any(ord(char) > 127 for char in names)
    assert {row["category"] for row in listings} >= {"Point of interest", "Motorcycle dealer"}
    assert any(row["wrong_site"] for row in truth["businesses"])


def test_everything_is_invented(coast: Coast) -> None:
    for row in coast.read("truth.json")["businesses"]:
        assert row["host"].endswith(".example") or not row["host"]
        digits = "0" + row["phone"].removeprefix("+61")
        assert digits.startswith("0491") or digits[:6] in LANDLINE_BLOCKS
        assert phonenumbers.is_valid_number(phonenumbers.parse(row["phone"]))


def test_every_site_renders_every_page_it_links_to(coast: Coast) -> None:
    for row in coast.read("sites.json"):
        site = Site(**row)
        for path in ("/", "/contact"):
            assert render(site, path)


def ask(coast: Coast, key: str = KEY, **params: str) -> tuple[int, dict[str, object]]:
    query = "&".join(f"{name}={value}" for name, value in params.items())
    request = urllib.request.Request(
        f"{coast.settings.source('listing_service').endpoint}/v1/search?{query}", headers={"X-Api-Key": key}
    )
    for _ in range(5):
        try:
            with urllib.request.urlopen(request, timeout=60) as answer:
                return answer.status, json.load(answer)
        except urllib.error.HTTPError as error:
            status, body = error.code, json.load(error)
            error.close()
            if status not in {429, 500}:
                return status, body
    raise AssertionError("the listing service keeps failing")


def test_the_listing_service_caps_pages_and_repeats_itself(coast: Coast) -> None:
    place = {"q": "vets", "lat": "-37.02", "lon": "160.02", "radius_m": "60000"}
    pages = [ask(coast, **place, page=str(page))[1] for page in (1, 2, 3)]
    rows = [row["id"] for page in pages for row in page["results"]]  # type: ignore[attr-defined]
    assert len(rows) == len(set(rows)) == CAP
    assert [page["more"] for page in pages] == [True, True, False]
    assert ask(coast, **place, page="1")[1] == pages[0]
    assert ask(coast, **place, page="4")[0] == 400
    assert ask(coast, "wrong", **place)[0] == 403


def test_every_trade_exceeds_the_cap(coast: Coast) -> None:
    known = Counter(row["_term"] for row in coast.read("listings.json"))
    assert {trade for trade, count in known.items() if count > CAP} == set(TRADE_LABELS)


def test_names_resolve_or_do_not_exist(coast: Coast) -> None:
    zone = coast.read("zone.json")
    host = next(iter(zone))
    records = {host: {"MX": ["10 mx1.saltmail.example"], "TXT": ["v" * 300]}}
    found = DNSRecord.parse(answer_dns(DNSRecord.question(host).pack(), zone, records))
    assert str(found.rr[0].rdata) == zone[host]
    mx = DNSRecord.parse(answer_dns(DNSRecord.question(host, "MX").pack(), zone, records)).rr
    assert [str(record.rdata) for record in mx] == ["10 mx1.saltmail.example."]
    texts = DNSRecord.parse(answer_dns(DNSRecord.question(host, "TXT").pack(), zone, records)).rr
    assert len(b"".join(texts[0].rdata.data)) == 300  # a long text goes in pieces of 255
    assert DNSRecord.parse(answer_dns(DNSRecord.question(host, "AAAA").pack(), zone, records)).rr == []
    missing = DNSRecord.parse(answer_dns(DNSRecord.question("nobody.example").pack(), zone, records))
    assert missing.header.rcode == RCODE.NXDOMAIN
    assert QTYPE.A == 1
