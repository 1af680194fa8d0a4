"""When a page's source does not show what a visitor sees."""

from openacorn.core.audit.evidence import PageFacts, Pages
from openacorn.core.audit.extract.vocabulary import languages
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, unknown

BARE_WORDS = 15
"""With fewer words a page's source says nothing of what stands on it: something else shows it, if anything does."""


def hidden(page: PageFacts, *, scripts: bool = True) -> Finding | None:
    """Return an unknown if something missing from the source could still be on the page as seen, else None."""
    if page.cut:
        return unknown("the page is nested too deeply to be read whole")
    if page.frames and page.words < BARE_WORDS * 2:
        return unknown("the page is made of frames", Evidence(page.url, page.at, page.frames[0]))
    if scripts and page.script_built:
        return unknown(
            "a script builds this page; its source does not show what visitors see",
            Evidence(page.url, page.at, page.app_root or page.text_start[:120] or "(no text)"),
        )
    if scripts and page.images and page.words < BARE_WORDS:
        shown = Evidence(page.url, page.at, page.text_start[:120] or "(no text)")
        return unknown("the page is made of pictures; its source holds no text", shown)
    return None


def pages_read(pages: Pages) -> str:
    """The addresses of the pages read, and of those that could not be."""
    text = ", ".join(page.url for page in pages.all)
    return text + (f" (not read: {', '.join(url for _, url in pages.missed)})" if pages.missed else "")


def nowhere(pages: Pages, reason: str, looked_for: str, *, in_words: bool = False, framed: bool = False) -> Finding:
    """Something that visitors read is on no page: a gap, unless a page could not be read or does not show its text.

    looked_for: what was searched for, for the evidence. in_words: is it known by its words? Pages in a language whose words we do
    not have then show nothing. framed: can another site show it in a frame?
    """
    if pages.missed:
        kind, url = pages.missed[0]
        return unknown(f"the {kind} page could not be read", Evidence(url, pages.home.at, "not read"))
    for page in pages.all:
        if concealed := hidden(page):
            return concealed
    for page in pages.all:
        if in_words and page.written_in and page.written_in not in languages():
            where = Evidence(page.url, page.at, page.text_start[:120])
            return unknown(f"we do not know the words of its language ({page.written_in})", where)
        if framed and page.content.strange_frame:
            return unknown(
                "it may be in a frame of another site", Evidence(page.url, page.at, page.content.strange_frame)
            )
    none = Evidence(pages.home.url, pages.home.at, f"no {looked_for} in {pages_read(pages)}")
    return gap(None, reason, none)


def action(pages: Pages, kind: str) -> Finding | None:
    """An ok if a link or button of this kind stands on a page read, else None."""
    for page in pages.all:
        for found in page.content.actions:
            if found.how == kind:
                return ok(
                    found.value, f"“{found.value}”", Evidence(page.url, page.at, f"{found.value} → {found.snippet}")
                )
    return None
