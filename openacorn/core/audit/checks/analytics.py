"""A living analytics tag."""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.extract.signatures import TagKind
from openacorn.core.audit.finding import Evidence, Finding, gap, ok
from openacorn.core.audit.readable import all_tags, hidden_tags

RETIRED_ON = "1 July 2023"
"""The day Universal Analytics properties stopped collecting, by its vendor's notice (from memory)."""


def judge(pages: Pages) -> Finding:
    """Any visitor statistics that still collect; a tag of the retired generation collects nothing."""
    tags = all_tags(pages)
    living = {vendor: seen for (vendor, kind), seen in tags.items() if kind == TagKind.ANALYTICS}
    if living:
        evidence = [Evidence(page.url, page.at, hit.snippet) for hit, page in living.values()]
        return ok(sorted(living), "visitor statistics are collected", *evidence)
    not_shown = hidden_tags(pages)
    if not_shown:
        return not_shown
    for (vendor, kind), (hit, page) in tags.items():
        if kind == TagKind.RETIRED:
            shown = Evidence(page.url, page.at, hit.snippet)
            return gap([f"{vendor} (retired)"], f"the tag in place has collected nothing since {RETIRED_ON}", shown)
    read = ", ".join(page.url for page in pages.all)
    return gap(
        None, "no visitor statistics", Evidence(pages.home.url, pages.home.at, f"none of the known tags in {read}")
    )


CHECK = Check(
    id="analytics",
    group=Group.TRACKING,
    title="Analytics",
    why="Without visitor statistics nobody knows whether the site, or any money spent on it, brings customers.",
    needs=(Pages,),
    judge=judge,
)
