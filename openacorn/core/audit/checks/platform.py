"""What the site is made with."""

import re

from openacorn.core.audit.address import host_of
from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.finding import Evidence, Finding, ok, unknown
from openacorn.core.audit.hosts import borrowed
from openacorn.core.audit.tag_evidence import all_tags

VERSION = re.compile(r"^(.*?)[\s/v]*(\d+(?:\.\d+)+|\d+)?\s*(?:[(;,].*)?$")


def evaluate(pages: Pages) -> Finding:
    """By its own word, by its files' addresses, or by the host it stands on; made by hand shows nothing."""
    home = pages.home
    if home.generator:
        name, version = (VERSION.match(home.generator) or VERSION.match("")).groups()  # type: ignore[union-attr]
        parts = [name.strip() or home.generator, *([version] if version else [])]
        return ok(
            parts,
            " ".join(parts),
            Evidence(home.url, home.at, f'<meta name="generator" content="{home.generator[:100]}">'),
        )
    for (vendor, kind), (hit, page) in all_tags(pages).items():
        if kind == TagKind.PLATFORM:
            return ok([vendor], vendor, Evidence(page.url, page.at, hit.snippet))
    loan = borrowed(host_of(home.url))
    if loan and loan[0] == "builder's subdomain":
        return ok([loan[1]], f"made with the builder at {loan[1]}", Evidence(home.url, home.at, host_of(home.url)))
    return unknown("the page does not show what it is made with")


CHECK = Check(
    id="platform",
    group=Group.PLATFORM,
    title="Made with",
    why="It decides what can be mended in an afternoon and what means building it again.",
    needs=(Pages,),
    evaluate=evaluate,
)
