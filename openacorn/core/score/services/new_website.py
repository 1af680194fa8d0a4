"""A website for who has none, or none that works."""

from openacorn.core.audit.finding import Outcome
from openacorn.core.score.service import Rule, Service

SERVICE = Service(
    id="new_website",
    title="New website",
    sentence="They have no website of their own that works, so everyone who looks them up goes elsewhere.",
    fee=2800,
    monthly=35,
    months=24,
    delivery=1500,
    rules=(
        Rule("no_website_confirmed", 4, decisive=True, severity={Outcome.GAP: 0.9, Outcome.PARTIAL: 0.1}),
        Rule("site_ownership", 3, decisive=True, severity={Outcome.GAP: 0.8}),
        Rule("answers", 4, decisive=True, severity={Outcome.PARTIAL: 0.4}),
        Rule("real_site", 4, decisive=True),
        Rule("own_domain", 3, decisive=True, severity={Outcome.GAP: 0.8}),
        Rule("https", 1),
    ),
)
