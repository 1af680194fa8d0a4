"""What is looked at in a message before it leaves: what stops it, and what to think about."""

import re
from dataclasses import dataclass
from typing import Literal

from openacorn.core.audit.reading_ease import reading_ease
from openacorn.core.outreach.message_kind import MessageKind, too_long, words

LONGEST_SUBJECT = 60
"""Characters that a phone shows of a subject (common practice)."""

MOST_LINKS = 2
HARD_TO_READ = 50
"""Flesch's reading ease below which a text is hard (see checks/readability.py)."""

LEAST_WORDS = 25
_LINK = re.compile(r"https?://\S+")
_LOUD = re.compile(r"\b[A-Z]{4,}(?:\s+[A-Z]{4,})+\b|!{2,}")
_DISLIKED = re.compile(
    r"\b(?:100 ?%|act now|best price|buy now|call now|cash|cheap|click here|congratulations|deal|dear friend|double your|"
    r"earn|exclusive offer|for free|free|guarantee\w*|incredible|limited time|lowest|make money|no cost|no obligation|"
    r"once in a lifetime|order now|prize|risk[- ]free|special promotion|urgent|winner)\b|\$\$|€€|££",
    re.I,
)
"""Words that spam filters weigh (common practice; from memory)."""


@dataclass(frozen=True, slots=True)
class Remark:
    """level: "stop" if the message must not leave, "note" for something to think about."""

    level: Literal["stop", "note"]
    text: str


def check_message(kind: MessageKind, subject: str, text: str, language: str = "en") -> list[Remark]:
    """Look a message over, the gravest first. text: without the footer that is added when it leaves."""
    found: list[Remark] = []
    if not text.strip():
        found.append(Remark("stop", "there is no text"))
    if kind is MessageKind.EMAIL:
        found += _check_subject(subject)
        links = len(_LINK.findall(text))
        if links > MOST_LINKS:
            found.append(Remark("note", f"it has {links} links; filters and readers like one or two"))
    if long := too_long(kind, text):
        found.append(Remark("note", long))
    disliked = dict.fromkeys(match.group().lower() for match in _DISLIKED.finditer(f"{subject}\n{text}"))
    if disliked and kind is not MessageKind.CALL:
        found.append(Remark("note", f"spam filters weigh: {', '.join(disliked)}"))
    if _LOUD.search(f"{subject}\n{text}"):
        found.append(Remark("note", "capitals or exclamation marks in a row read as shouting"))
    if language == "en" and words(text) >= LEAST_WORDS and reading_ease(_LINK.sub("", text)) < HARD_TO_READ:
        found.append(Remark("note", "it is hard to read: use shorter sentences and words"))
    return found


def _check_subject(subject: str) -> list[Remark]:
    if not subject.strip():
        return [Remark("stop", "there is no subject")]
    if len(subject) > LONGEST_SUBJECT:
        return [Remark("note", f"the subject has {len(subject)} characters; a phone shows {LONGEST_SUBJECT}")]
    return []
