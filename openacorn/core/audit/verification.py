"""Does an address or a number reach somebody: what was found out and how far; whose address it is; guesses by a pattern."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from openacorn.core.audit.freemail import is_freemail


class VerificationResult(StrEnum):
    """What is known of an address."""

    VALID = "valid"
    RISKY = "risky"
    DEAD = "dead"
    UNKNOWN = "unknown"


class Stage(StrEnum):
    """How far the address was followed."""

    SYNTAX = "syntax"
    DOMAIN = "domain"
    MX = "mail server"
    MAILBOX = "mailbox"
    OUTSIDE = "another verifier"


class Line(StrEnum):
    """What a phone number belongs to; NOT_SAID where only the numbering plan is known."""

    MOBILE = "mobile"
    LANDLINE = "landline"
    VOIP = "internet line"
    UNSTATED = ""


@dataclass(frozen=True, slots=True)
class Verified:
    """One e-mail address or number (E.164): the result, the stage that decided it, what was said there, when (ISO 8601)."""

    address: str
    result: VerificationResult
    stage: Stage
    detail: str
    at: str
    line: Line = Line.UNSTATED


ROLE_NAMES = frozenset(
    "info hello contact office admin enquiries enquiry sales mail reception team support bookings booking shop studio "
    "service help accounts orders post general hi".split()
)
"""Local parts that name a desk, not a person (common practice; several are in RFC 2142)."""


def nature(address: str, own_domain: str) -> tuple[str, str]:
    """("named" or "role", "own domain", "free mail" or "another domain") of an address."""
    local, _, domain = address.lower().partition("@")
    whose = (
        "own domain"
        if own_domain and domain == own_domain
        else "free mail"
        if is_freemail(domain)
        else "another domain"
    )
    return ("role" if local in ROLE_NAMES else "named"), whose


def _forms(name: str) -> dict[str, str]:
    words = [re.sub(r"[^a-z]", "", word.lower()) for word in name.split()]
    first, last = words[0], words[-1]
    return {
        "first.last": f"{first}.{last}",
        "firstlast": f"{first}{last}",
        "f.last": f"{first[:1]}.{last}",
        "flast": f"{first[:1]}{last}",
        "first_last": f"{first}_{last}",
        "first": first,
        "last": last,
    }


def guesses(people: Sequence[str], addresses: Sequence[str], own_domain: str) -> dict[str, str]:
    """Person → an address that another one at the domain shows the pattern of; nobody where none does. Guesses until verified."""
    shown = [address.partition("@")[0] for address in addresses if address.endswith(f"@{own_domain}")]
    patterns = [
        form for name in people if len(name.split()) > 1 for form, local in _forms(name).items() if local in shown
    ]
    if not patterns or not own_domain:
        return {}
    pattern = max(sorted(set(patterns)), key=patterns.count)
    held = set(shown)
    return {
        name: f"{_forms(name)[pattern]}@{own_domain}"
        for name in people
        if len(name.split()) > 1 and not held & set(_forms(name).values())
    }
