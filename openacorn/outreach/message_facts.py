"""What a message to a business may say: facts out of its pitch, each with what allows it to be said."""

from collections.abc import Sequence
from dataclasses import dataclass

from openacorn.core.audit.check import check_ids, check_titles, owners_topics
from openacorn.core.languages.catalogue import Translator
from openacorn.core.outreach.message_template import FactUnknown, MessageFact, MessageTemplate, Written, write
from openacorn.core.outreach.template_language import in_language, language_barrier
from openacorn.core.report.claims import Claim
from openacorn.core.report.letterhead import Letterhead
from openacorn.outreach.pitch import Pitch, peer_sentence
from openacorn.outreach.recipients import name_of


@dataclass(frozen=True, slots=True)
class Sender:
    """Who writes. name: of the person; page: where the business opens its owner's page, "" if there is none that it can reach."""

    head: Letterhead
    name: str = ""
    page: str = ""


@dataclass(frozen=True, slots=True)
class Draft:
    """A template filled in for one business; left_out: why it cannot be, "" if it was; language: that it is in (ISO 639-1)."""

    subject: str = ""
    written: Written | None = None
    left_out: str = ""
    language: str = "en"


def _because(claim: Claim) -> str:
    seen = claim.evidence[0]
    return f"{check_titles().get(claim.check, claim.check)}: {claim.seen} ({seen.url}, {seen.at[:10]})"


def claims_for(pitch: Pitch) -> list[Claim]:
    """What may be claimed that speaks for the service of the pitch, what matters most first."""
    if pitch.service is None:
        return []
    checks = {rule.check for rule in pitch.service.rules}
    return [claim for claim in pitch.selected.claims if claim.check in checks]


def _peers(pitch: Pitch, checks: Sequence[str], words: Translator) -> tuple[str, str]:
    """How the peers do in what speaks for the service, in a sentence; and what that rests on."""
    topics = owners_topics()
    for lack in pitch.peers.lacks if pitch.peers else ():
        if lack.check in checks and lack.check in topics:
            return (
                f"{peer_sentence(pitch, lack, topics[lack.check], words)}.",
                f"{check_titles().get(lack.check, lack.check)} of the nearest {lack.of} of the trade",
            )
    return "", ""


def _greeting(first: str, last: str, words: Translator) -> str:
    if not first:
        return words.text("Hello,")
    return words.text("Hello {first},", first=first, last=last).replace(" ,", ",")


def facts_of(pitch: Pitch, sender: Sender, address: str, words: Translator) -> dict[str, MessageFact]:
    """Every fact that a template can ask for; those not known have no value. address: of the person written to."""
    first, last = name_of(pitch.people, address)
    claims = [claim.in_language(words) for claim in claims_for(pitch)]
    person = f"{address} is the address of {first} {last}".strip() if first else ""
    peers, peers_because = _peers(pitch, [claim.check for claim in claims], words)
    row, head = pitch.row, sender.head
    facts = {
        "greeting": MessageFact(_greeting(first, last, words), person),
        "first_name": MessageFact(first, person),
        "last_name": MessageFact(last, person),
        "business": MessageFact(row["name"], "its listings"),
        "town": MessageFact(row["town"], "its listings"),
        "trade": MessageFact(pitch.trade.lower(), "its listings"),
        "trades": MessageFact(pitch.trades.lower(), "its listings"),
        "seen_on": MessageFact(words.day(pitch.audit.at) if pitch.audit else "", "the audit of its website"),
        "website": MessageFact(row["website"], "its listings"),
        "peers": MessageFact(peers, peers_because),
        "reviews": MessageFact(row["reviews"], "its listings"),
        "rating": MessageFact(row["rating"], "its listings"),
        "opening_line": MessageFact(pitch.line, "the angle"),
        "page": MessageFact(sender.page, "the owner’s page is shared"),
        "offer": MessageFact(pitch.service_title(words)),
        "agency": MessageFact(head.name), "sender": MessageFact(sender.name or head.person), "phone": MessageFact(head.phone),
    }  # fmt: skip
    for name, claim in zip(("claim", "second_claim"), claims, strict=False):
        facts[name] = MessageFact(claim.text, _because(claim))
    if claims:
        facts["why"] = MessageFact(claims[0].why, _because(claims[0]))
        facts["remedy"] = MessageFact(claims[0].remedy, _because(claims[0]))
    return facts


def fill_in(template: MessageTemplate, pitch: Pitch, sender: Sender, address: str) -> Draft:
    """Fill in a template for a business. Raises TemplateError for one that cannot be used."""
    template = in_language(template, pitch.language)
    if barrier := language_barrier(template, pitch.language):
        return Draft(left_out=barrier)
    facts = facts_of(pitch, sender, address, Translator(template.language))
    gaps = {claim.check for claim in pitch.selected.claims}
    try:
        subject = write(template.subject, facts, gaps, check_ids())
        text = write(template.text, facts, gaps, check_ids())
    except FactUnknown as unknown:
        return Draft(left_out=str(unknown))
    return Draft(subject.text, text, language=template.language)
