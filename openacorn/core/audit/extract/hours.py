"""Opening hours in a page's text."""

import re
from functools import cache

from openacorn.core.audit.extract.vocabulary import languages, table_of

HALF = r"(?:[ap]\.?\s?m\b\.?|uhr|hrs?\b|h\b|ч\b|год|時|点|點|시|ص|م\b)"
LEAD = r"(?:(?:kl\.?|um|at|à|alle|às|o)\s*)?"
CLOCK = rf"{LEAD}(?:\d{{1,2}}\s?[:.h時点點시]\s?\d{{2}}(?!\d)分?\s*{HALF}?|\d{{1,2}}\s*{HALF})"
"""A time that shows that it is one: with minutes or a mark; a bare number is one only between a day and another."""

BARE = rf"{LEAD}\d{{1,2}}"
JOIN = r"\s*(?:-|–|—|−|~|～|〜|/|{span})\s*"
LETTERS = r"\b(?:M|Mo|Tu|T|W|We|Th|F|Fr|Sa|S|Su)\s?[-–]\s?(?:F|Fr|Sa|S|Su)\b"
"""Days by their first letters, which only a span of them makes days."""

GAP = r"[^.!?\n]{0,40}?"
READ_CHARS = 200_000
TIME_LIKE = re.compile(
    r"\d\s?[:.h時點点시]\s?\d{2}(?!\d)|\d\s*(?:[ap]\.?\s?m\b|uhr|h\b|時|點|点|시|ч\b|ص|م\b)|\b\d{1,2}\s*(?:-|–|to|bis|à|tot|do)\s*\d{1,2}\b"
    r"|\b24\s?(?:/\s?7|hours)",
    re.I,
)
_MONTH = r"(?:jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec)[a-z]*\.?"
A_DATE = re.compile(
    rf"\b{_MONTH}\s+\d{{1,2}}\b(?!\s*[:.h]\s*\d)|\b\d{{1,2}}\.?\s+{_MONTH}\b|\b\d{{1,2}}[./]\d{{1,2}}[./]\d{{2,4}}\b",
    re.I,
)
"""A day of the year beside the weekday: one such alone is an occasion, not the hours of every week."""

REACH, MOST_SPOTS = 60, 80


@cache
def _pattern(codes: frozenset[str]) -> re.Pattern[str]:

    def words(kind: str, least: int = 2) -> str:
        found = {
            word.lower()
            for code in codes
            for word in table_of(kind).get(code, ())
            if len(word) >= least or ord(word[0]) > 0x2E80
        }
        return "|".join(sorted(map(re.escape, found), key=len, reverse=True))

    join = JOIN.format(span=words("span", 1))
    marked = rf"(?:{CLOCK}{join}(?:{CLOCK}|{BARE})|{BARE}{join}{CLOCK})"
    begin, end = r"(?<![^\W\d_])", r"(?:\.|(?![^\W_]))"
    long = rf"(?:{begin}(?:{words('days', 3)})(?:s|e|en|er|day)?{end}|{LETTERS})"
    short = rf"{begin}(?:{words('days')}){end}"
    days = rf"(?:{long}|{short}\s?(?:-|–|—|\+|&|/|{words('span')})\s?{short}|{short}(?=[\s:,]{{0,3}}\d))"
    known = rf"(?<![^\W\d_])(?:{words('closed')})(?![^\W\d_])"
    return re.compile(
        rf"{days}{GAP}\b{marked}|{days}[\s:,]{{1,4}}{BARE}{join}{BARE}\b(?![./:]\d|\s*(?:{words('days')}))"
        rf"|\b{marked}[^.!?\n]{{0,25}}?{days}|{known}[^.!?\n]{{0,30}}?\b{marked}|{known}[\s:]{{1,3}}{BARE}{join}{BARE}\b"
        rf"|{long}[\s:,–-]{{1,4}}{known}|\b(?:open|hours)\b[^.!?\n]{{0,12}}\b24\s?(?:/\s?7|hours)\b",
        re.IGNORECASE,
    )


def _near_times(text: str) -> list[str]:
    """The text around each thing that looks like a time, what overlaps put together: the rest holds no hours."""
    spans: list[list[int]] = []
    for match in TIME_LIKE.finditer(text):
        start, end = max(0, match.start() - REACH), match.end() + REACH
        if spans and start <= spans[-1][1]:
            spans[-1][1] = end
        elif len(spans) == MOST_SPOTS:
            break
        else:
            spans.append([start, end])
    return [text[start:end] for start, end in spans]


def find_hours(text: str, spoken: frozenset[str]) -> str:
    """Return the words that give opening hours, "" if there are none: a day beside a time or a span of times, in one of the
    languages spoken (ISO 639-1) or in English."""
    pattern = _pattern((spoken | {"en"}) & languages())
    matches = [match for spot in _near_times(text[:READ_CHARS]) for match in pattern.finditer(spot)]
    weekly = (match for match in matches if not A_DATE.search(match.group(0)))
    found = next(
        weekly, matches[0] if len(matches) > 1 else None
    )  # days with their dates one after another are hours too
    return " ".join(found.group(0).split())[:160] if found else ""
