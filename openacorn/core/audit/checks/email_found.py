"""An e-mail address on the site."""

from openacorn.core.audit.check import Check, Group
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, unknown
from openacorn.core.audit.readable import hidden


def judge(pages: Pages) -> Finding:
    """On the home page or a contact page; if such a page could not be read, it may be there."""
    found = {
        mail.value: Evidence(page.url, page.at, mail.snippet) for page in reversed(pages.all) for mail in page.emails
    }
    if found:
        return ok(sorted(found), f"{len(found)} found", *found.values())
    if pages.missed:
        kind, url = pages.missed[0]
        return unknown(f"the {kind} page could not be read", Evidence(url, pages.home.at, "not read"))
    read = ", ".join(page.url for page in pages.all)
    return hidden(pages.home) or gap(
        None, "no e-mail address", Evidence(pages.home.url, pages.home.at, f"none in {read}")
    )


CHECK = Check(
    id="email_found",
    group=Group.CONTACT,
    title="E-mail on site",
    why="Some customers would rather write than call, also at night.",
    needs=(Pages,),
    judge=judge,
)
