"""A message worded again by the writing helper: what it may say, and whether it says only that."""

import sqlite3
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from openacorn.business.store import businesses
from openacorn.core.languages.catalogue import Translator
from openacorn.core.outreach.message_template import Sentence
from openacorn.core.writing.fidelity import RewriteCheck, Statement, check_rewrite, split_sentences
from openacorn.core.writing.helper import Tone, Wish
from openacorn.outreach.message_facts import Sender, claims_for, facts_of
from openacorn.outreach.owner_pages import letterhead
from openacorn.outreach.pitch import Pitcher
from openacorn.outreach.store.messages import Message
from openacorn.outreach.store.owner_pages import open_tokens
from openacorn.settings import Settings

NOT_SAID = frozenset({"greeting", "opening_line", "offer", "reviews", "rating"})
"""Facts that are no sentence by themselves, or that others hold."""


@dataclass(frozen=True, slots=True)
class Reworded:
    """A message as the helper worded it, judged. subject: judged as a text of its own."""

    subject: RewriteCheck
    text: RewriteCheck

    @property
    def holds(self) -> bool:
        """May it be used?"""
        return self.text.holds and not any(sentence.problems for sentence in self.subject.sentences)


def facts_for(conn: sqlite3.Connection, settings: Settings, message: Message, language: str) -> list[str]:
    """What may be said of a business besides its message, in a language."""
    words = Translator(language)
    pitch = Pitcher(conn, region=settings.region).pitch(
        businesses.get_business(conn, message.business_id), (), message.service
    )
    token = open_tokens(conn, [message.business_id]).get(message.business_id)
    page = settings.public_url(f"/o/{token}") if token else ""
    known = facts_of(pitch, Sender(letterhead(conn, settings), message.by, page), message.address, words)
    facts = [str(fact.value) for name, fact in known.items() if fact.value and name not in NOT_SAID]
    for claim in (item.in_language(words) for item in claims_for(pitch)):
        facts += [claim.text, claim.why, claim.remedy]
    if reviews := pitch.row["reviews"]:
        facts.append(words.count("You have one review.", "You have {n} reviews.", reviews))
    return list(dict.fromkeys(facts))


def wish_for(
    conn: sqlite3.Connection, settings: Settings, message: Message, tone: Tone, language: str, subject: str, text: str
) -> Wish:
    """What the helper is asked for a message whose text stands as given."""
    return Wish(text, tone, language, subject, facts_for(conn, settings, message, language))


def _without(text: str, sentences: Iterable[str]) -> str:
    """A text without some of its sentences."""
    for sentence in sentences:
        text = text.replace(sentence, "\n")
    return text


def _sources(text: str, because: Sequence[Sentence]) -> list[Statement]:
    """The sentences of a text; those that are known already with what allows them."""
    known = {item.text: item.because for item in because}
    rest = split_sentences(_without(text, known))
    return [*(Statement(*item) for item in known.items() if item[0] in text), *map(Statement, rest)]


def judge(message: Message, wish: Wish, subject: str, text: str) -> Reworded:
    """Does a new subject and text say only what the old ones and the facts do?"""
    sources = _sources(wish.text, message.because)
    titles = [Statement(wish.subject)] if wish.subject else []
    return Reworded(
        check_rewrite([], subject, [*(item.text for item in [*titles, *sources]), *wish.facts], wish.language),
        check_rewrite(sources, text, [wish.subject, *wish.facts], wish.language),
    )


def reasons_kept(message: Message, text: str) -> list[Sentence]:
    """The sentences of a changed text that rest on a finding: those that stayed, and those that say the same in other words."""
    stayed = [item for item in message.because if item.text in text]
    left = _without(text, [item.text for item in stayed])
    sources = [Statement(item.text, item.because) for item in message.because]
    said_again = check_rewrite(sources, left, [message.text], message.language).sentences
    found = stayed + [Sentence(item.text, item.because) for item in said_again if item.because]
    return sorted(found, key=lambda item: text.find(item.text))
