"""Web addresses as people and listings write them."""

import html
from urllib.parse import parse_qsl, urlencode, urlsplit, urlunsplit

TRACKING_KEYS = frozenset({"fbclid", "gclid", "msclkid", "mc_cid", "mc_eid", "igshid", "ref_src"})
MAX_URL = 2000


class AddressError(ValueError):
    """The text is not a web address; the message says why, in words for the user."""


def clean_url(text: str) -> str:
    """Return a fetchable address: entities undone, scheme added (https), tracking keys dropped, host in ASCII.

    Raises AddressError for anything that is not http(s) with a host.
    """
    raw = html.unescape(text).strip().strip("<>\"'")
    if not raw:
        raise AddressError("the address is empty")
    if len(raw) > MAX_URL:
        raise AddressError(f"the address is longer than {MAX_URL} characters")
    if "://" not in raw:
        raw = "https://" + raw.lstrip("/")
    try:
        parts = urlsplit(raw)
        host, port = parts.hostname or "", parts.port
    except ValueError as error:
        raise AddressError(f"{text!r} is not a web address: {error}") from None
    if parts.scheme.lower() not in {"http", "https"}:
        raise AddressError(f"{text!r} is not a web address: only http and https are read")
    if "@" in parts.netloc:
        raise AddressError(f"{text!r} is not a web address: it looks like an e-mail address or carries a user name")
    if any(char.isspace() or char in '<>"{}|\\^`' for char in host) or not host:
        raise AddressError(f"{text!r} is not a web address: no host name in it")
    if ":" not in host:
        if "." not in host and host != "localhost":
            raise AddressError(f"{text!r} is not a web address: {host!r} is not a full host name")
        try:
            host = host.encode("idna").decode("ascii") if not host.isascii() else host
        except UnicodeError:
            raise AddressError(f"{text!r} is not a web address: {host!r} cannot be a host name") from None
    else:
        host = f"[{host}]"
    query = urlencode(
        [
            (k, v)
            for k, v in parse_qsl(parts.query, keep_blank_values=True)
            if k not in TRACKING_KEYS and k[:4] != "utm_"
        ]
    )
    return urlunsplit((parts.scheme.lower(), host + (f":{port}" if port else ""), parts.path or "/", query, ""))
