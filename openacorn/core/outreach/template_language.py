"""Message templates in the owner's language: paragraph by paragraph out of the catalogue, or not at all."""

import re
from dataclasses import replace

from openacorn.core.languages.catalogue import ENGLISH, LANGUAGES, Translator
from openacorn.core.outreach.message_kind import MessageKind, plain_letters
from openacorn.core.outreach.message_template import MessageTemplate

_BREAK = re.compile(r"\n{2,}")


def paragraphs(template: MessageTemplate) -> list[str]:
    """What is translated of a template: its subject and its paragraphs, each whole."""
    return [part.strip() for part in (template.subject, *_BREAK.split(template.text)) if part.strip()]


def in_language(template: MessageTemplate, language: str) -> MessageTemplate:
    """A template as an owner gets it: translated if every paragraph of it can be, else as it is. Never half of each."""
    words = Translator(language)
    if template.language != ENGLISH or not all(words.knows(part) for part in paragraphs(template)):
        return template
    text = "\n\n".join(words.text(part.strip()) for part in _BREAK.split(template.text))
    if template.kind is MessageKind.TEXT:
        text = plain_letters(text)
    return replace(template, subject=words.text(template.subject), text=text, language=words.language)


def language_barrier(template: MessageTemplate, language: str) -> str:
    """Why an owner must not get a template for its language, "" if they may: English is used where others are missing."""
    if template.language in {language, ENGLISH}:
        return ""
    return f"it is in {LANGUAGES[template.language]}, and the owner reads {LANGUAGES[language]}"
