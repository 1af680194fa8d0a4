"""Where somebody stopped reading a list: they go on after the business they saw last, wherever it stands by then."""

import base64
import binascii
import hashlib
from collections.abc import Mapping
from dataclasses import dataclass

from openacorn.core.desk.filters import FilterError

MARK_BYTES = 6
NUMBER_BYTES = 8
LENGTH = MARK_BYTES + 2 * NUMBER_BYTES


@dataclass(frozen=True, slots=True)
class Cursor:
    """last: the business seen last; offset: how many were seen, for when it is in the list no more."""

    last: int
    offset: int


def _mark(params: Mapping[str, str], sort: str) -> bytes:
    """By what a list is known: its filter and its order."""
    text = "\n".join([sort, *(f"{name}={value}" for name, value in sorted(params.items()))])
    return hashlib.sha256(text.encode("utf-8", "surrogatepass")).digest()[:MARK_BYTES]


def encode_cursor(cursor: Cursor, params: Mapping[str, str], sort: str) -> str:
    """The cursor as an address holds it. params: the filter's."""
    numbers = b"".join(number.to_bytes(NUMBER_BYTES, "big") for number in (cursor.last, cursor.offset))
    return base64.urlsafe_b64encode(_mark(params, sort) + numbers).decode().rstrip("=")


def decode_cursor(text: str, params: Mapping[str, str], sort: str) -> Cursor:
    """Raises FilterError for what is no cursor of this list."""
    try:
        raw = base64.b64decode(text + "=" * (-len(text) % 4), altchars=b"-_", validate=True)
    except (binascii.Error, ValueError):
        raw = b""
    if len(raw) != LENGTH:
        raise FilterError("cursor: this is none; take the one that the page before gave as next")
    if raw[:MARK_BYTES] != _mark(params, sort):
        raise FilterError("cursor: this is of a list with another filter or order; begin without one")
    last, offset = (
        int.from_bytes(raw[start : start + NUMBER_BYTES], "big") for start in (MARK_BYTES, MARK_BYTES + NUMBER_BYTES)
    )
    if max(last, offset) >= 2**63:
        raise FilterError("cursor: this is none; take the one that the page before gave as next")
    return Cursor(last, offset)
