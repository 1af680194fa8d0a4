"""A gateway for text messages as a recipe: how a text is handed over, how its answer is read, and how incoming ones are."""

import json
import re
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any
from urllib.parse import parse_qsl, quote, urlsplit

import jmespath
import orjson
from jmespath.exceptions import JMESPathError

from openacorn.errors import InvalidInput

SLOTS = frozenset({"to", "text", "sender", "reference", "since"})
_SLOT = re.compile(r"\{(\w+)\}")
MOST_TEXT = 2000


class GatewayError(InvalidInput):
    """A recipe of a gateway that cannot be used; the message says why."""

    where = "gateway"
    remedy = "compare it with the gateway's documentation"


@dataclass(frozen=True, slots=True)
class TextGateway:
    """address, body: with {to} {text} {sender} {reference}; body: JSON, or a form (a=b&c=d), "" for a GET. key_name: the header
    that carries the key, after key_prefix. number, error: paths (JMESPath) to the message's number in the answer, and to what
    stands only where it was refused. inbox: address asked for incoming texts, with {since}, "" if they come by a webhook.
    incoming: path to the list of these; from_, text, id: names or paths in one of them. daily_limit: texts a day; countries:
    whose rules for texts to businesses the user has confirmed (ISO 3166)."""

    address: str
    body: str = ""
    key_name: str = "Authorization"
    key_prefix: str = "Bearer "
    sender: str = ""
    number: str = ""
    error: str = ""
    inbox: str = ""
    incoming: str = ""
    from_: str = "from"
    text: str = "text"
    id: str = "id"
    daily_limit: int = 50
    countries: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class GatewayCall:
    """One request to a gateway. body None: a GET."""

    url: str
    headers: dict[str, str]
    body: bytes | None


@dataclass(frozen=True, slots=True)
class IncomingText:
    """A text that came in. id: the gateway's, "" if it gives none."""

    sender: str
    text: str
    id: str = ""


@lru_cache(maxsize=64)
def _path(text: str) -> Any:
    try:
        return jmespath.compile(text)
    except JMESPathError as error:
        raise GatewayError(f"the path {text!r} cannot be read: {error}") from None


def _is_json(body: str) -> bool:
    return body.lstrip().startswith(("{", "["))


def check_gateway(gateway: TextGateway) -> None:
    """Raise GatewayError unless a recipe can be used."""
    for name, address in (("address", gateway.address), ("address of incoming texts", gateway.inbox)):
        parts = urlsplit(_SLOT.sub("x", address))
        if address and (parts.scheme not in {"http", "https"} or not parts.netloc):
            raise GatewayError(f"the {name} is no web address")
    if not gateway.address:
        raise GatewayError("the address is missing")
    used = set(_SLOT.findall(gateway.address + gateway.body))
    if (
        strange := sorted(used - SLOTS)
        if not _is_json(gateway.body)
        else sorted(set(_SLOT.findall(gateway.address)) - SLOTS)
    ):
        raise GatewayError(
            f"there is no slot {{{strange[0]}}}; use {', '.join(f'{{{slot}}}' for slot in sorted(SLOTS))}"
        )
    for needed in ("to", "text"):
        if needed not in used:
            raise GatewayError(f"neither the address nor the body says where the {needed} goes: write {{{needed}}}")
    if _is_json(gateway.body):
        try:
            orjson.loads(_fill(gateway.body, dict.fromkeys(SLOTS, "1"), _in_json))
        except orjson.JSONDecodeError as error:
            raise GatewayError(f"the body is no JSON: {error}") from None
    for path in filter(
        None, (gateway.number, gateway.error, gateway.incoming, gateway.from_, gateway.text, gateway.id)
    ):
        _path(path)


def _in_json(value: str) -> str:
    return json.dumps(value)[1:-1]


def _in_url(value: str) -> str:
    return quote(value, safe="")


def _fill(pattern: str, values: Mapping[str, str], escape: Any) -> str:
    return _SLOT.sub(lambda slot: escape(values[slot[1]]) if slot[1] in values else slot[0], pattern)


def _headers(gateway: TextGateway, key: str) -> dict[str, str]:
    return {gateway.key_name: gateway.key_prefix + key} if key and gateway.key_name else {}


def request_of(gateway: TextGateway, key: str, to: str, text: str, reference: str) -> GatewayCall:
    """The request that hands a text over. to: E.164; reference: ours, by which a gateway knows a text that it was handed before."""
    values = {"to": to, "text": text, "sender": gateway.sender, "reference": reference}
    url, headers = _fill(gateway.address, values, _in_url), _headers(gateway, key)
    if not gateway.body:
        return GatewayCall(url, headers, None)
    json_body = _is_json(gateway.body)
    kind = "application/json" if json_body else "application/x-www-form-urlencoded"
    body = _fill(gateway.body, values, _in_json if json_body else _in_url)
    return GatewayCall(url, {**headers, "Content-Type": kind}, body.encode())


def inbox_request(gateway: TextGateway, key: str, since: str) -> GatewayCall:
    """The request for incoming texts. since: the gateway's own number of the last one that was read, "" for none."""
    return GatewayCall(_fill(gateway.inbox, {"since": since}, _in_url), _headers(gateway, key), None)


def _loads(body: bytes) -> Any:
    try:
        return orjson.loads(body)
    except orjson.JSONDecodeError:
        return None


def refusal_of(gateway: TextGateway, status: int, body: bytes) -> str:
    """Why a gateway refused a text, "" if it took it."""
    said = _path(gateway.error).search(_loads(body)) if gateway.error else None
    if said:
        return str(said)[:300]
    if 200 <= status < 300:
        return ""
    return f"HTTP {status}: {body[:200].decode('utf-8', 'replace')}".strip(": ")


def number_of(gateway: TextGateway, body: bytes) -> str:
    """The gateway's own number of a text that it took, "" if the answer gives none."""
    found = _path(gateway.number).search(_loads(body)) if gateway.number else None
    return str(found)[:200] if isinstance(found, str | int) else ""


def _incoming(gateway: TextGateway, item: Any) -> IncomingText | None:
    found = [
        _path(path).search(item) if path and isinstance(item, dict) else ""
        for path in (gateway.from_, gateway.text, gateway.id)
    ]
    sender, text, number = (str(value) if isinstance(value, str | int) else "" for value in found)
    return IncomingText(sender.strip(), text[:MOST_TEXT], number) if sender.strip() else None


def read_texts(gateway: TextGateway, body: bytes) -> list[IncomingText]:
    """Incoming texts out of an answer, or out of what a webhook was sent (JSON). Raises GatewayError for what is no JSON."""
    answer = _loads(body)
    if answer is None:
        raise GatewayError("the answer is no JSON")
    listed = _path(gateway.incoming).search(answer) if gateway.incoming else answer
    items = listed if isinstance(listed, list) else [listed]
    return [found for item in items if (found := _incoming(gateway, item)) is not None]


def read_webhook(gateway: TextGateway, kind: str, body: bytes) -> list[IncomingText]:
    """Incoming texts out of what a gateway sends to our address: JSON, or a form. kind: its Content-Type. Raises GatewayError."""
    if "json" in kind.lower():
        return read_texts(gateway, body)
    form = dict(parse_qsl(body.decode("utf-8", "replace"), keep_blank_values=True))
    found = IncomingText(
        form.get(gateway.from_, "").strip(), form.get(gateway.text, "")[:MOST_TEXT], form.get(gateway.id, "")
    )
    return [found] if found.sender else []
