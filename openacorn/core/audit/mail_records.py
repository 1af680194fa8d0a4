"""SPF (RFC 7208) and DMARC (RFC 7489) records read."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

MAX_LOOKUPS = 10
"""RFC 7208, 4.6.4: more look-ups are a permanent error."""

_LOOKS_UP = re.compile(r"^[+?~-]?(?:include:|a(?:$|[:/])|mx(?:$|[:/])|ptr(?:$|:)|exists:)|^redirect=", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class Spf:
    """record: as it stands, "" if there is none. ending: what becomes of mail from elsewhere: "-", "~", "?", "+" or "" where
    nothing is said. fault: why receivers must ignore it, "" if it is sound."""

    record: str
    ending: str = ""
    fault: str = ""


def read_spf(texts: Sequence[str]) -> Spf:
    """The SPF policy among a domain's TXT records (RFC 7208, 4.5 to 4.7)."""
    found = [text for text in texts if text.lower() == "v=spf1" or text.lower().startswith("v=spf1 ")]
    if not found:
        return Spf("")
    if len(found) > 1:
        return Spf(" | ".join(found), fault=f"{len(found)} records: receivers must take that as an error")
    terms = found[0].split()[1:]
    lookups = sum(bool(_LOOKS_UP.match(term)) for term in terms)
    fault = f"{lookups} look-ups, more than the {MAX_LOOKUPS} allowed" if lookups > MAX_LOOKUPS else ""
    for term in terms:
        match = re.fullmatch(r"([+?~-]?)all", term, re.IGNORECASE)
        if match:
            return Spf(found[0], match.group(1) or "+", fault)
    if any(term.lower().startswith("redirect=") for term in terms):
        return Spf(found[0], "redirect", fault)
    return Spf(found[0], "", fault)


@dataclass(frozen=True, slots=True)
class Dmarc:
    """record: as it stands, "" if there is none. policy: "none", "quarantine" or "reject". share: percentage of mail it is for."""

    record: str
    policy: str = ""
    share: int = 100
    fault: str = ""


def read_dmarc(texts: Sequence[str]) -> Dmarc:
    """The policy among the TXT records at _dmarc (RFC 7489, 6.3 and 6.6.3)."""
    found = [text for text in texts if re.match(r"v\s*=\s*DMARC1\s*(?:;|$)", text)]
    if not found:
        return Dmarc("")
    if len(found) > 1:
        return Dmarc(" | ".join(found), fault=f"{len(found)} records: receivers ignore them all")
    tags: dict[str, str] = {}
    for part in found[0].split(";"):
        name, mark, value = part.partition("=")
        if mark:
            tags.setdefault(name.strip().lower(), value.strip())
    policy = tags.get("p", "").lower()
    if policy not in {"none", "quarantine", "reject"}:
        if "rua" in tags:  # RFC 7489, 6.6.3: then it counts as "none"
            return Dmarc(found[0], "none")
        return Dmarc(found[0], fault="it names no policy, so receivers ignore it")
    share = tags.get("pct", "100")
    return Dmarc(found[0], policy, int(share) if share.isdigit() and int(share) <= 100 else 100)
