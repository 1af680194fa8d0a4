"""How an agency sends: what holds for all its mailboxes."""

from dataclasses import dataclass

from openacorn.core.outreach.working_hours import Hours

BY_HAND_FIRST = 50
"""So many messages are looked at and approved by hand before any leaves unseen (the default)."""

PER_DOMAIN = 10
"""Messages a day to addresses of one domain: more of the same look like spam to its server (common practice)."""


@dataclass(frozen=True, slots=True)
class SendingRules:
    """by_hand: messages that must be approved before the rest goes without, -1 for all of them; hours: of who receives;
    domain_cap: messages a day to one domain; post_address: of the agency, which mail to businesses must name in many countries;
    paused: nothing leaves."""

    by_hand: int = BY_HAND_FIRST
    hours: Hours = Hours()  # noqa: RUF009
    domain_cap: int = PER_DOMAIN
    post_address: str = ""
    paused: bool = False
