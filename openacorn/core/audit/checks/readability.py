"""Is the text easy to read?"""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.finding import Evidence, Finding, gap, not_applicable, ok, partial
from openacorn.core.audit.readable import hidden
from openacorn.core.audit.reading_ease import reading_ease

HARD, FAIRLY_HARD = 30, 50
"""Flesch's own table: below 30 very difficult, 30 to 50 difficult (R. Flesch, "A new readability yardstick", 1948)."""

LEAST_WORDS = 40


def evaluate(pages: Pages) -> Finding:
    """Flesch reading ease of the home page's sentences; it is made for English only."""
    page = pages.home
    prose = page.content.prose
    if prose.count(" ") < LEAST_WORDS:
        return hidden(page) or not_applicable("there is too little text to judge")
    if (page.written_in or (page.language or "en").lower()[:2]) != "en":
        return not_applicable("the page is not in English, which the measure is made for")
    ease = round(reading_ease(prose))
    shown = Evidence(page.url, page.at, f"reading ease {ease} of 100: {prose[:100]}")
    if ease < HARD:
        return gap(ease, "the text is very hard to read", shown)
    if ease < FAIRLY_HARD:
        return partial(ease, "the text is hard to read", shown)
    return ok(ease, "the text reads easily", shown)


CHECK = Check(
    id="readability",
    group=Group.CONTENT,
    title="Readability",
    why="People skim; long words in long sentences send them to the next name.",
    needs=(Pages,),
    evaluate=evaluate,
    rank=70,
    owner=OwnersWords(
        topic="Text that reads easily",
        claim="The text on your website is very hard to read.",
        partly="The text on your website is hard to read.",
        remedy="Use shorter sentences.",
    ),
)
