"""Is the page sent compressed?"""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages, Visit
from openacorn.core.audit.finding import Evidence, Finding, gap, not_applicable, ok

WORTH_IT_BYTES = 1400
"""What fits into one packet gains nothing (common practice)."""

CODINGS = {"gzip", "br", "deflate", "zstd", "x-gzip"}


def evaluate(visit: Visit, pages: Pages) -> Finding:
    """Content-Encoding of the home page, as answered to a client that takes gzip and deflate (RFC 9110, 8.4)."""
    page = pages.home
    coding = visit.header("content-encoding").lower()
    shown = Evidence(visit.url, visit.at, f"Content-Encoding: {coding or '(none)'}, {page.html_bytes} bytes")
    if CODINGS & set(coding.replace(",", " ").split()):
        return ok(coding, "the page is sent compressed", shown)
    if page.html_bytes < WORTH_IT_BYTES:
        return not_applicable("the page is too small to gain by it", shown)
    return gap(None, "the page is sent uncompressed", shown)


CHECK = Check(
    id="compression",
    group=Group.SPEED,
    title="Compression",
    why="One switch on the server makes text a quarter as long on its way to the visitor.",
    needs=(Visit, Pages),
    evaluate=evaluate,
    owner=OwnersWords(
        topic="Pages sent compressed",
        claim="Your pages are sent uncompressed and take longer to arrive.",
        remedy="Turn on compression on your server.",
    ),
)
