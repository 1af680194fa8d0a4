"""A domain of their own, and mail that arrives."""

from openacorn.core.score.service import Rule, Service

SERVICE = Service(
    id="domain_mail",
    title="Domain and e-mail",
    sentence="Their mail goes out under somebody else’s name, or lands in spam.",
    fee=190,
    monthly=18,
    months=24,
    delivery=180,
    rules=(
        Rule("own_domain", 4, decisive=True),
        Rule("name_domain", 1),
        Rule("mail_host", 2),
        Rule("spf", 3),
        Rule("dmarc", 3),
    ),
)
