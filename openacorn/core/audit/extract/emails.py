"""E-mail addresses out of a page, including the usual ways of hiding them from robots."""

import re
from collections.abc import Iterable, Iterator
from functools import lru_cache

from email_validator import EmailNotValidError, validate_email

from openacorn.core.audit.evidence import Found

LOCAL_CHARS = frozenset("abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789.%&'+_-")
"""What stands before an "@" in practice; RFC 5322 allows more, which in a text are marks of the text."""

MASKS = ("*", "•", "·", "…")
"""What stands for letters of an address that is not shown whole."""
DOMAIN_CHARS = frozenset("abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789.-")
FILE_ENDINGS = (".png", ".jpg", ".jpeg", ".gif", ".svg", ".webp", ".css", ".js", ".avif")
PLACEHOLDER_DOMAINS = frozenset(
    {
        "example.com",
        "example.org",
        "example.net",
        "domain.com",
        "yourdomain.com",
        "email.com",
        "mysite.com",
        "sentry.io",
    }
)
PLACEHOLDERS = frozenset("example yourname your.name youremail your.email your-email username user.name".split())
"""Names in examples of how to write an address."""

AT_WORDS = re.compile(
    r"([\w.+-]{1,64})\s*[\[({<]\s*(?:at|@)\s*[\])}>]\s*([\w-]+(?:(?:\.|\s*[\[({<]\s*dot\s*[\])}>]\s*)[\w-]+)+)",
    re.IGNORECASE,
)
AT_WORD = re.compile(r"[\[({<]\s*(?:at|@)\s*[\])}>]", re.IGNORECASE)
"""What AT_WORDS holds in its middle: looked for first, since it begins with a mark and not with any word of the page."""

DOT_WORDS = re.compile(r"\s*[\[({<]\s*dot\s*[\])}>]\s*", re.IGNORECASE)
JOINED = re.compile(r"""(['"][^'"\n]{0,80}['"](?:\s*\+\s*['"][^'"\n]{0,80}['"]){1,12})""")
QUOTED = re.compile(r"""['"]([^'"\n]*)['"]""")
CHAR_CODES = re.compile(r"String\.fromCharCode\(\s*((?:\d{1,3}\s*,\s*){4,200}\d{1,3})\s*\)")
SNIPPET = 40


@lru_cache(maxsize=4096)
def clean_email(text: str) -> str | None:
    """Return the address in lower case if its syntax is valid (RFC 5321/5322 as email-validator reads them)."""
    address = text.strip(" .'\"\t\n").lower().removeprefix("www.")
    local, _, domain = address.rpartition("@")
    if not address or address.endswith(FILE_ENDINGS) or domain in PLACEHOLDER_DOMAINS or "." not in domain:
        return None
    if local in PLACEHOLDERS:
        return None
    try:
        result = validate_email(address, check_deliverability=False)
    except EmailNotValidError:
        return None
    return str(result.normalized).lower()


def _around_at(text: str) -> Iterator[tuple[str, int]]:
    """Grow outward from each "@": far faster than a pattern over the whole page, with the same answers."""
    position = text.find("@")
    while position != -1:
        start, end = position, position + 1
        while start > 0 and text[start - 1] in LOCAL_CHARS:
            start -= 1
        while end < len(text) and text[end] in DOMAIN_CHARS:
            end += 1
        masked = text[start - 1 : start] in MASKS
        if start < position and end > position + 1 and not masked:
            yield text[start:end], start
        position = text.find("@", position + 1)


def unprotect(encoded: str) -> str:
    """Undo the common e-mail protection: hex bytes, each XORed with the first. Empty when it is not that."""
    try:
        raw = bytes.fromhex(encoded)
        return bytes(byte ^ raw[0] for byte in raw[1:]).decode("utf-8")
    except (ValueError, IndexError):
        return ""


def _from_scripts(scripts: Iterable[str]) -> Iterator[tuple[str, str]]:
    """Addresses that a script puts together: joined strings and character codes. Plain strings in scripts are not taken."""
    for script in scripts:
        for match in JOINED.finditer(script):
            joined = "".join(QUOTED.findall(match.group(1)))
            yield from ((address, match.group(1)) for address, _ in _around_at(joined))
        for match in CHAR_CODES.finditer(script):
            codes = [int(code) for code in match.group(1).split(",")]
            written = "".join(map(chr, codes))
            yield from ((address, match.group(0)[:SNIPPET]) for address, _ in _around_at(written))


def find_emails(text: str, links: Iterable[str], protected: Iterable[str], scripts: Iterable[str]) -> tuple[Found, ...]:
    """Return the addresses, each once, best evidence first.

    text: visible text. links: targets of `mailto:`. protected: values of protection attributes. scripts: inline scripts.
    """
    seen: dict[str, Found] = {}

    def add(raw: str, snippet: str, how: str) -> None:
        address = clean_email(raw)
        if address and address not in seen:
            seen[address] = Found(address, " ".join(snippet.split()), how)

    for link in links:
        add(link.split("?")[0], f"mailto:{link}", "link")
    for encoded in protected:
        add(unprotect(encoded), encoded, "protected")
    for raw, start in _around_at(text):
        add(raw, text[max(0, start - SNIPPET) : start + len(raw) + SNIPPET], "text")
    for match in AT_WORDS.finditer(text) if AT_WORD.search(text) else ():
        add(f"{match.group(1)}@{DOT_WORDS.sub('.', match.group(2))}", match.group(0), "written out")
    for raw, snippet in _from_scripts(scripts):
        add(raw, snippet, "script")
    return tuple(seen.values())
