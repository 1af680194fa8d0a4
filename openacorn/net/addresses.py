"""Which addresses are on the open internet, and what a host that is a number means.

Special blocks: IANA's registries of special-purpose addresses (RFC 6890, 8190; iana-ipv4-special-registry and
iana-ipv6-special-registry), as remembered in 2026 and compared with the standard library's. Blocks that the registries call
globally reachable but that no business's website is in (anycast relays, AS112) are refused with the rest.
"""

import ipaddress
import unicodedata
from ipaddress import IPv4Address, IPv4Network, IPv6Address, IPv6Network

SPECIAL_V4 = tuple(
    map(
        IPv4Network,
        (
            "0.0.0.0/8", "10.0.0.0/8", "100.64.0.0/10", "127.0.0.0/8", "169.254.0.0/16", "172.16.0.0/12", "192.0.0.0/24",
            "192.0.2.0/24", "192.31.196.0/24", "192.52.193.0/24", "192.88.99.0/24", "192.168.0.0/16", "192.175.48.0/24",
            "198.18.0.0/15", "198.51.100.0/24", "203.0.113.0/24", "224.0.0.0/4", "240.0.0.0/4",
        ),
    )
)  # fmt: skip
GLOBAL_V6 = IPv6Network("2000::/3")
"""All that is given out as global unicast (RFC 4291, 2.4); all others are refused, except those that hold an IPv4 address."""

SPECIAL_V6 = tuple(
    map(IPv6Network, ("2001::/23", "2001:db8::/32", "2620:4f:8000::/48", "3fff::/20"))
)  # the others lie outside 2000::/3
NAT64 = IPv6Network("64:ff9b::/96")
SIX_TO_FOUR = IPv6Network("2002::/16")
ISATAP = frozenset({0x00005EFE, 0x02005EFE})
"""The first half of an interface's id that holds an IPv4 address in its second half (RFC 5214, 6.1)."""

Address = IPv4Address | IPv6Address


def embedded(ip: IPv6Address) -> IPv4Address | None:
    """The IPv4 address that an IPv6 address stands for: mapped (RFC 4291), NAT64 (6052), 6to4 (3056), ISATAP (5214)."""
    if ip.ipv4_mapped:
        return ip.ipv4_mapped
    whole = int(ip)
    if ip in NAT64 or (whole >> 32) & 0xFFFFFFFF in ISATAP:
        return IPv4Address(whole & 0xFFFFFFFF)
    return IPv4Address((whole >> 80) & 0xFFFFFFFF) if ip in SIX_TO_FOUR else None


def is_public(ip: Address) -> bool:
    """Is it on the open internet, itself and the IPv4 address it may stand for?"""
    if isinstance(ip, IPv4Address):
        return not any(ip in block for block in SPECIAL_V4)
    inner = embedded(ip)
    if inner is not None and not is_public(inner):
        return False
    if ip.ipv4_mapped or ip in NAT64:
        return True
    return ip in GLOBAL_V6 and not any(ip in block for block in SPECIAL_V6)


def _number(text: str) -> int:
    """One part of an IPv4 address as browsers read it: decimal, octal, hexadecimal. Raises ValueError."""
    if text.lower().startswith("0x"):
        return int(text[2:] or "0", 16)
    return int(text, 8) if len(text) > 1 and text.startswith("0") else int(text, 10)


def address_of(host: str) -> tuple[Address, bool] | None:
    """(the address that a host is, is it written the usual way?), None if it is a name.

    Read as browsers do (WHATWG URL Standard, "IPv4 parser"): "2130706433", "0x7f.1", "0177.0.0.1" and "１２７.1" are all
    127.0.0.1. Raises ValueError for what ends in a number and is no address.
    """
    plain = host.strip("[]")
    try:
        return ipaddress.ip_address(plain), True
    except ValueError:
        pass
    read = unicodedata.normalize("NFKC", plain).replace("\u3002", ".").removesuffix(".")
    *front, last = read.split(".")
    if not (last.isdigit() or last.lower().startswith("0x")):
        return None
    numbers = [_number(part) for part in (*front, last)]
    if len(numbers) > 4 or any(not 0 <= number < 256 for number in numbers[:-1]):
        raise ValueError(f"{host} ends in a number and is no address")
    whole = numbers[-1] + sum(number << 8 * (3 - place) for place, number in enumerate(numbers[:-1]))
    if not 0 <= numbers[-1] < 256 ** (5 - len(numbers)):
        raise ValueError(f"{host} ends in a number and is no address")
    return IPv4Address(whole), False
