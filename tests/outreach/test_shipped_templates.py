"""The templates that ship: enough of each kind, short enough with ordinary names, and no finding said without its fact."""

from collections import Counter

from openacorn.core.outreach.message_check import check_message
from openacorn.core.outreach.message_kind import MessageKind
from openacorn.core.outreach.message_template import MessageFact, write
from openacorn.core.score.service import all_services
from openacorn.outreach.template_library import shipped_templates

LEAST = {
    MessageKind.EMAIL: 5,
    MessageKind.TEXT: 3,
    MessageKind.VOICEMAIL: 2,
    MessageKind.SOCIAL: 2,
    MessageKind.CALL: 1,
}
FACTS = {
    "greeting": "Hello Anneliese,", "business": "Saltmarsh Veterinary Clinic", "town": "Port Ellery", "trade": "optometrist",
    "trades": "optometrists", "why": "People skim; long words in long sentences send them to the next name.",
    "claim": "Your website does not give search engines your hours, place and number in the form they read.",
    "remedy": "Give search engines the hours, the place and the number in the form they read.", "seen_on": "30 September 2026",
    "reviews": "37", "peers": "14 of 22 optometrists nearby have this: booking online.", "sender": "Ada Wren", "agency": "Wrenfold Studio",
    "phone": "(03) 5550 1180", "page": "https://pages.wrenfold.example/o/abcdefghijklmnopqrstuvwx",
}  # fmt: skip


def test_every_service_has_enough_of_each_kind() -> None:
    counts = Counter((item.service, item.kind) for item in shipped_templates().values())
    for service in all_services():
        assert {kind: counts[service.id, kind] >= least for kind, least in LEAST.items()} == dict.fromkeys(
            LEAST, True
        ), service.id


def test_nothing_is_to_be_said_against_any_of_them() -> None:
    facts = {name: MessageFact(value, "known") for name, value in FACTS.items()}
    for item in shipped_templates().values():
        subject, text = (write(part, facts, (), ()).text for part in (item.subject, item.text))
        assert check_message(item.kind, subject, text) == [], item.id
