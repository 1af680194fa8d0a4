"""Web addresses as people and listings write them."""

import html
import re
from urllib.parse import parse_qsl, urlencode, urlsplit, urlunsplit

TRACKING_KEYS = frozenset({"fbclid", "gclid", "msclkid", "mc_cid", "mc_eid", "igshid", "ref_src"})
MAX_URL = 2000
NO_HOST = re.compile(r"""[\s<>"{}|\\^`]""")
"""What no host name holds."""


FETCHABLE = re.compile(r"https?://([a-z0-9.-]+)(?::\d{1,5})?(?:/|$)")
"""What needs no parser: half the time of normalising a listing went into splitting addresses (measured)."""


class AddressError(ValueError):
    """The text is not a web address; the message says why, in words for the user."""


USUAL = re.compile(r"(?:(https?)://)?((?:[a-z0-9-]+\.)+[a-z0-9-]+)(/[A-Za-z0-9._~/-]*)?")
"""An address that needs no parser: nothing to be undone, added or dropped except the scheme."""


def clean_url(text: str) -> str:
    """Return a fetchable address: entities undone, scheme added (https), tracking keys dropped, host in ASCII.

    Raises AddressError for anything that is not http(s) with a host.
    """
    usual = USUAL.fullmatch(text)
    if usual and len(text) < MAX_URL:
        return f"{usual[1] or 'https'}://{usual[2]}{usual[3] or '/'}"
    return _parsed(text)


def _parsed(text: str) -> str:
    raw = (html.unescape(text) if "&" in text else text).strip().strip("<>\"'")
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
    if not host or NO_HOST.search(host):
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
    query = _untracked(parts.query) if parts.query else ""
    return urlunsplit((parts.scheme.lower(), host + (f":{port}" if port else ""), parts.path or "/", query, ""))


def _untracked(query: str) -> str:
    """A query without what only says where a click came from."""
    pairs = parse_qsl(query, keep_blank_values=True)
    return urlencode([(key, value) for key, value in pairs if key not in TRACKING_KEYS and key[:4] != "utm_"])


def host_of(url: str) -> str:
    """Return the host in lower case, "" if there is none."""
    usual = FETCHABLE.match(url)
    if usual:
        return usual[1]
    try:
        return (urlsplit(url).hostname or "").lower()
    except ValueError:
        return ""
