"""Sentences of an owner's page that depend on what is known, in the owner's language."""

from openacorn.core.audit.address import host_of
from openacorn.core.languages.catalogue import Translator
from openacorn.core.report.owners_page import OwnersFacts, Peers


class PageSentences:
    """What the page's template asks for. Languages that have no word for the trade leave {trades} out."""

    def __init__(self, words: Translator) -> None:
        self._words = words
        self.day = words.day
        self.number = words.number
        self.language = words.language

    def looked(self, facts: OwnersFacts) -> str:
        """What was looked at, and when."""
        say, day = self._words.text, self.day(facts.looked_at) if facts.looked_at else ""
        site = host_of(facts.website) or facts.website
        if not site:
            if not day:
                return say("We looked for your website and read your public listings.")
            return say("We looked for your website and read your public listings on {day}.", day=day)
        if not day:
            return say("We looked at {site} and at your public listings.", site=site)
        if facts.pages > 1:
            pages = self._words.number(facts.pages)
            return say(
                "We looked at {site} ({pages} pages) on {day}, and at your public listings.",
                site=site,
                pages=pages,
                day=day,
            )
        return say("We looked at {site} on {day}, and at your public listings.", site=site, day=day)

    def verdict(self, facts: OwnersFacts) -> str:
        """The page in one sentence."""
        found = len(facts.claims) + facts.more
        if found:
            return self._words.count(
                "We found one thing that could be better.", "We found {n} things that could be better.", found
            )
        if not facts.fine:
            return self._words.text("We could not check enough to say anything.")
        if facts.unseen:
            return self._words.text("We found nothing wrong in what we could look at.")
        return self._words.text("We found nothing to mend.")

    def reviews(self, peers: Peers) -> str:
        """How many peers have no more reviews."""
        said = self._words.count("You have one review.", "You have {n} reviews.", peers.reviews or 0)
        few = self._words.text(
            "That is as many as or more than {fewer} of {all} {trades} near you.",
            fewer=peers.no_more, all=peers.reviewed, trades=peers.trades.lower(),
        )  # fmt: skip
        return f"{said} {few}"

    def lacks(self, peers: Peers) -> str:
        """Before the list of what peers have and this business does not."""
        return self._words.text("What many {trades} near you have and you do not yet:", trades=peers.trades.lower())

    def no_lack(self, peers: Peers) -> str:
        """Said where there is no such list."""
        return self._words.text(
            "We saw nothing that most {trades} near you have and you do not.", trades=peers.trades.lower()
        )
