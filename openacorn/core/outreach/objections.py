"""What owners often say on the phone, and what can be answered: common practice of the trade, in our own words."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Objection:
    """What they say, and what can be answered. {trade} and {topic} stand for theirs."""

    says: str
    answer: str


ALWAYS = (
    Objection(
        "I have no time.", "I know: two minutes, or tell me a better hour. May I send you the page with what we saw?"
    ),
    Objection(
        "We have somebody for that.", "Good. Then hand them the page: it costs nothing and says what to mend first."
    ),
    Objection("How did you get my number?", "From your public listing. Say the word and we never call again."),
)
BY_SERVICE: dict[str, Objection] = {
    "new_website": Objection(
        "Our customers know us.", "They do. The new ones look you up first, and find others of your trade."
    ),
    "mobile_rebuild": Objection(
        "The site works on my computer.",
        "It does. Open it on your phone while we talk: that is where most people see it.",
    ),
    "analytics_repair": Objection(
        "We get enough visitors.", "That may be. At present nobody can say how many, or what they came for."
    ),
    "ads_setup": Objection(
        "Ads did not work for us.", "Then let us see what was counted; without that nobody can know why."
    ),
    "search_basics": Objection(
        "We come first when I search our name.", "By name, yes. People who need you search for what you do and where."
    ),
    "local_listing": Objection(
        "Reviews are all fake.", "Some are. Yours are your customers', and people choose by how many there are."
    ),
    "booking_shop": Objection("People can call us.", "By day they do. After hours they book where they can."),
    "speed": Objection(
        "It loads fine here.", "From the second visit on it does. A new visitor on a phone loads all of it."
    ),
    "security_upkeep": Objection(
        "Nobody would attack us.", "Hardly anybody is chosen: programs try every door they find."
    ),
    "domain_mail": Objection(
        "Our mail works.", "It leaves you. Whether it arrives in the inbox hangs on what we found."
    ),
    "social_presence": Objection(
        "We have no time to post.", "Nor should you: two posts a month, prepared, are enough."
    ),
    "home_video": Objection("A film is too dear.", "Half a minute, filmed in an hour in your shop, is enough."),
}
"""Service that ships → the answers about it in particular."""


def objections(service: str) -> tuple[Objection, ...]:
    """What to be ready for when a service is offered."""
    own = BY_SERVICE.get(service)
    return (own, *ALWAYS) if own else ALWAYS
