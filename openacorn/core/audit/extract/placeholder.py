"""Pages that stand where a site should be: parked, coming soon, a server's default page."""

import re

PARKED = re.compile(
    r"(?:this |the )?domain (?:name )?(?:[\w.-]+ )?(?:is|may be|has been) (?:for sale|parked|available for purchase)"
    r"|buy this domain|domain (?:is )?parked|parked (?:free|domain|by)|this domain has expired|renew (?:it|this domain) now"
    r"|interested in (?:buying )?this domain|make an offer on this domain|related searches.{0,80}privacy policy",
    re.IGNORECASE | re.DOTALL,
)
SOON = re.compile(
    r"coming soon|under construction|launching soon|opening soon online"
    r"|(?:new |our )?(?:web ?site|site) (?:is )?(?:on its way|in progress|being built)"
    r"|watch this space|site (?:is )?(?:currently )?(?:down for|under) maintenance|we(?:'|’)ll be back soon|check back soon",
    re.IGNORECASE,
)
DEFAULT = re.compile(
    r"welcome to nginx|apache2? (?:ubuntu |debian |http server )?(?:default|test) page|^it works!?$|iis windows server"
    r"|^index of /|default web ?site page|account suspended|this account has been suspended|website is no longer available"
    r"|site not (?:published|found)|congratulations.{0,60}(?:successfully installed|your new (?:web)?site)"
    r"|welcome to wordpress\. this is your first post|future home of|plesk.{0,40}default|web server's default page",
    re.IGNORECASE | re.DOTALL,
)
MAX_WORDS = {"parked": 250, "coming soon": 90, "default page": 400}
"""A real site may say "coming soon" of a product: the words count only on short pages. Set on the sets in tests/."""


def find_placeholder(title: str, text: str, words: int) -> tuple[str | None, str]:
    """Return (kind, the words that say so): "parked", "coming soon" or "default page"; (None, "") for anything else."""
    for kind, pattern in (("parked", PARKED), ("default page", DEFAULT), ("coming soon", SOON)):
        if words > MAX_WORDS[kind]:
            continue
        match = pattern.search(title) or pattern.search(text)
        if match:
            return kind, " ".join(match.group(0).split())[:120]
    return None, ""
