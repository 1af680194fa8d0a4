"""What proxies say, and which of them are believed."""

from collections.abc import Mapping

from starlette.types import Scope

from openacorn.settings import Settings

FORWARDED = ("forwarded", "x-forwarded-for", "x-forwarded-host", "x-forwarded-proto", "x-real-ip", "via")
LOOPBACK_CLIENTS = frozenset({"127.0.0.1", "::1", ""})


def peer_of(scope: Scope) -> str:
    """The address at the other end of the connection."""
    return str((scope.get("client") or ("", 0))[0])


def trusted(settings: Settings, address: str) -> bool:
    """Is a proxy at this address believed?"""
    return address in {str(known) for known in settings.trusted_proxies}


def client_address(settings: Settings, scope: Scope, headers: Mapping[str, str]) -> str:
    """The client's address: the last one that a trusted proxy names, else that of the connection."""
    sender = peer_of(scope)
    for named in reversed(headers.get("x-forwarded-for", "").split(",")):
        if not trusted(settings, sender) or not named.strip():
            break
        sender = named.strip()[:60]
    return sender


def forwarded(headers: Mapping[str, str]) -> bool:
    """Did a request come through a proxy?"""
    return any(name in headers for name in FORWARDED)


def from_outside(scope: Scope, headers: Mapping[str, str]) -> bool:
    """Did a request come from another machine, or through a proxy?"""
    return peer_of(scope) not in LOOPBACK_CLIENTS or forwarded(headers)
