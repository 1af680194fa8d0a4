"""Where a business is, as far as messages need it: its country, its time zone and the language of its owner."""

import sqlite3
from collections.abc import Mapping
from typing import Any

import phonenumbers

from openacorn.business.store.audits import StoredEvidence
from openacorn.core.geo.gazetteer import zone_at
from openacorn.core.languages.choice import language_for
from openacorn.outreach.store import languages
from openacorn.settings import Settings


def country_of(row: Mapping[str, Any], region: str | None) -> str:
    """Where a business is (ISO 3166-1 alpha-2): by its number, else the agency's country."""
    try:
        found = phonenumbers.region_code_for_number(phonenumbers.parse(row["phone"], None)) if row["phone"] else None
    except phonenumbers.NumberParseException:
        found = None
    return found or region or ""


def zone_of_business(row: Mapping[str, Any], settings: Settings) -> str:
    """Its time zone (IANA): by its place, else the agency's."""
    if row["lat"] is not None and row["lon"] is not None:
        return zone_at(row["lat"], row["lon"])
    return settings.time_zone or "UTC"


def language_of_site(audit: StoredEvidence | None) -> str:
    """The language of a website's text, else the declared one (BCP 47); "" where nothing tells."""
    home = audit.crawl.pages.home if audit and audit.crawl and audit.crawl.pages else None
    return (home.written_in or home.language or "") if home else ""


def language_of_owner(
    conn: sqlite3.Connection, row: Mapping[str, Any], audit: StoredEvidence | None, region: str | None
) -> str:
    """The language that a business's owner is written to in (ISO 639-1)."""
    by_hand, of_list = languages.get_language(conn, row["id"]), languages.language_of_lists(conn, row["id"])
    return language_for(by_hand, of_list, language_of_site(audit), country_of(row, region))
