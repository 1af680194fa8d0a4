"""The page's language."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, partial


def evaluate(pages: Pages) -> Finding:
    """The lang attribute (HTML standard; BCP 47 begins with two or three letters, or eight at most)."""
    page = pages.home
    language = (page.language or "").strip()
    shown = Evidence(
        page.url, page.at, f'<html lang="{language}">' if language else "<html> without lang, no meta element for it"
    )
    first = language.split("-")[0]
    if not language:
        return gap(None, "the page does not say its language", shown)
    if not (first.isascii() and first.isalpha() and 2 <= len(first) <= 8):
        return partial(language, f"“{language}” is no language tag", shown)
    return ok(language, "the page says its language", shown)


CHECK = Check(
    id="language",
    group=Group.SEARCH,
    title="Language",
    why="Screen readers must know in which language to speak, and browsers whether to translate.",
    needs=(Pages,),
    evaluate=evaluate,
    weight=0.5,
    rank=70,
    owner=OwnersWords(
        topic="The page says its language",
        claim="Your pages do not say which language they are in.",
        partly="Your pages name a language that browsers do not know.",
        remedy="Name the language, so that screen readers pronounce it correctly.",
    ),
)
