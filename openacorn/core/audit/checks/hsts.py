"""Does the site tell browsers to come securely from now on?"""

import re

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Visit
from openacorn.core.audit.finding import Evidence, Finding, gap, not_applicable, ok, partial, unknown

LONG_ENOUGH_S = 15_552_000
"""180 days: shorter ones lapse between two visits of most customers (common practice)."""

AGE = re.compile(r'max-age\s*=\s*"?(\d+)', re.IGNORECASE)


def evaluate(visit: Visit) -> Finding:
    """Strict-Transport-Security (RFC 6797); max-age=0 switches it off."""
    if not visit.answered:
        return unknown("the site could not be read")
    if not visit.url.startswith("https://") or (visit.certificate is not None and visit.certificate.problem):
        return not_applicable("it counts only on a sound secure address")
    header = visit.header("strict-transport-security")
    age = AGE.search(header)
    shown = Evidence(visit.url, visit.at, f"Strict-Transport-Security: {header or '(not sent)'}")
    if not age or int(age.group(1)) == 0:
        return gap(None, "browsers are not told to come securely", shown)
    if int(age.group(1)) < LONG_ENOUGH_S:
        return partial(int(age.group(1)), f"only for {int(age.group(1)) // 86400} days", shown)
    return ok(int(age.group(1)), "browsers come securely from the second visit on", shown)


CHECK = Check(
    id="hsts",
    group=Group.SECURITY,
    title="HSTS",
    why="Once told, browsers never use the insecure address again, so nobody on a café's network can interfere.",
    needs=(Visit,),
    evaluate=evaluate,
    weight=0.5,
    rank=60,
    owner=OwnersWords(
        topic="Always opened securely",
        claim="Your website does not tell browsers to always use the secure address.",
        partly="Your website tells browsers to use the secure address only for a short time.",
        remedy="Add the one line that keeps browsers on the secure address.",
    ),
)
