"""Does an e-mail address reach somebody: what was found out, how far, and results read back from any verifier."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from openacorn.core.audit.extract.contacts import clean_email
from openacorn.core.audit.freemail import is_freemail
from openacorn.core.scoring.reach import ROLE_NAMES


class Result(StrEnum):
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


@dataclass(frozen=True, slots=True)
class Verified:
    """One address: the result, the stage that decided it, what was said there, when (ISO 8601)."""

    address: str
    result: Result
    stage: Stage
    detail: str
    at: str


class VerdictsError(ValueError):
    """A verifier's file that cannot be read; the message says what is missing."""


WORDS: tuple[tuple[Result, frozenset[str]], ...] = (
    (Result.DEAD, frozenset("invalid undeliverable bad dead bounce bounced hard_bounce rejected fail failed no".split())),
    (Result.RISKY, frozenset("risky catchall catch_all accept_all acceptall accept_all_unverifiable spamtrap role".split())),
    (Result.VALID, frozenset("valid deliverable ok good verified safe pass yes true".split())),
)  # fmt: skip
"""Words that verifiers use for their results (common practice)."""

ADDRESS_HEADS = ("email", "e-mail", "mail", "address", "email_address")
RESULT_HEADS = ("result", "status", "state", "verdict", "deliverability", "verification")


def read_verdict(text: str) -> Result:
    """A verifier's word as a result; unknown where it is none that is known."""
    said = re.sub(r"[^a-z]+", "_", text.strip().lower()).strip("_")
    return next((result for result, words in WORDS if said in words), Result.UNKNOWN)


def _column(heads: Sequence[str], wanted: Sequence[str], what: str) -> str:
    by_name = {re.sub(r"[^a-z_-]+", "_", head.strip().lower()): head for head in heads}
    found = next((by_name[name] for name in wanted if name in by_name), None)
    if found is None:
        raise VerdictsError(
            f"no column for the {what}: name one of them {wanted[0]!r}; there are {', '.join(heads) or 'none'}"
        )
    return found


def read_verdicts(rows: Sequence[Mapping[str, str]], at: str) -> tuple[list[Verified], list[int]]:
    """(results, numbers of the rows that hold no address) of a verifier's table. Raises VerdictsError."""
    if not rows:
        raise VerdictsError("the file holds no rows")
    heads = list(rows[0])
    address_in, result_in = _column(heads, ADDRESS_HEADS, "address"), _column(heads, RESULT_HEADS, "result")
    found, strange = [], []
    for number, row in enumerate(rows, start=2):
        address = clean_email(str(row.get(address_in) or ""))
        said = str(row.get(result_in) or "")
        if address is None:
            strange.append(number)
        else:
            found.append(Verified(address, read_verdict(said), Stage.OUTSIDE, said[:80], at))
    return found, strange


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
