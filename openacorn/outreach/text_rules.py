"""Where a text message may go to: mobiles, in countries whose rules are confirmed, on no register."""

import sqlite3

import phonenumbers

from openacorn.core.outreach.text_gateway import TextGateway
from openacorn.outreach.store import texts


def country_of_number(number: str) -> str:
    """The country (ISO 3166) of a mobile number (E.164), "" for what is surely no mobile, or none at all."""
    try:
        parsed = phonenumbers.parse(number, None)
    except phonenumbers.NumberParseException:
        return ""
    mobile = (phonenumbers.PhoneNumberType.MOBILE, phonenumbers.PhoneNumberType.FIXED_LINE_OR_MOBILE)
    if phonenumbers.number_type(parsed) not in mobile:
        return ""
    return phonenumbers.region_code_for_number(parsed) or ""


def text_barred(conn: sqlite3.Connection, gateway: TextGateway, number: str) -> str:
    """Why no text may go to a number, "" if one may."""
    country = country_of_number(number)
    if not country:
        return f"{number} is no mobile number"
    if country not in gateway.countries:
        return f"the rules for texts to {country} are not confirmed"
    if found := texts.registers_of(conn, number):
        return f"{number} is {found}"
    return ""
