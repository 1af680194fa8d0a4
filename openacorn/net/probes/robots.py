"""robots.txt, as RFC 9309 has it."""

from protego import Protego

from openacorn.net.client import Answer

AGENT = "OpenAcorn"
SEARCH_AGENT = "Googlebot"


class Robots:
    """What one host lets us read. `home_only`: the file could not be had, so no more than the one page asked for."""

    def __init__(self, text: str | None, *, home_only: bool = False) -> None:
        self._rules = Protego.parse(text) if text else None
        self.known = not home_only
        self.home_only = home_only

    def allows(self, url: str) -> bool:
        """May we read this address?"""
        return self._rules is None or bool(self._rules.can_fetch(url, AGENT))

    def bars_search(self, url: str) -> bool:
        """Do the rules keep the largest search engine's robot from this address?"""
        return self._rules is not None and not self._rules.can_fetch(url, SEARCH_AGENT)

    @property
    def sitemaps(self) -> list[str]:
        """Addresses of sitemaps that the file names."""
        return list(self._rules.sitemaps) if self._rules is not None else []


def read_robots(answer: Answer) -> Robots:
    """Read the rules out of the answer to /robots.txt.

    RFC 9309 §2.3.1.3: 4xx allows everything. §2.3.1.4 asks crawlers to keep away on 5xx: we open the one page that the
    listing points to, as any visitor does, and nothing behind it.
    """
    if answer.status >= 500:
        return Robots(None, home_only=True)
    text = answer.body.decode("utf-8", "replace") if answer.status == 200 else None
    if text is not None and "<html" in text[:500].lower():
        text = None  # a page that answers to every address is not a rules file
    return Robots(text)
