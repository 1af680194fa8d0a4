"""Days until the certificate lapses."""

from datetime import datetime

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import TlsProblem, Visit
from openacorn.core.audit.finding import Evidence, Finding, gap, not_applicable, ok, partial, unknown

SOON_DAYS = 14
"""Certificates that renew themselves do so at 30 days left (common practice); under 14 something has stopped working."""


def evaluate(visit: Visit) -> Finding:
    """Counted from the visit, not from now: what was seen is what is reported."""
    certificate = visit.certificate
    if certificate is None or not certificate.not_after:
        if visit.answered and visit.url.startswith("http://"):
            return not_applicable("the page came without a certificate")
        return unknown("no certificate was seen")
    days = (datetime.fromisoformat(certificate.not_after) - datetime.fromisoformat(visit.at)).days
    shown = Evidence(visit.url, visit.at, f"issued by {certificate.issuer}, valid until {certificate.not_after[:10]}")
    if days < 0 or certificate.problem is TlsProblem.EXPIRED:
        return gap(days, f"the certificate lapsed {-days} days ago", shown)
    if days < SOON_DAYS:
        return partial(days, f"the certificate lapses in {days} days", shown)
    return ok(days, f"{days} days left", shown)


CHECK = Check(
    id="certificate_days",
    group=Group.SECURITY,
    title="Certificate expiry",
    why="On the day it expires every visitor gets a full-page warning instead of your site.",
    needs=(Visit,),
    evaluate=evaluate,
    owner=OwnersWords(
        topic="A valid certificate",
        claim="The security certificate of your website has expired.",
        partly="The security certificate of your website expires soon.",
        remedy="Renew the certificate, and set it to renew automatically.",
        instead_of=("https",),
    ),
)
