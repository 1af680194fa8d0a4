"""HTTPS with a certificate that browsers accept."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Failure, TlsProblem, Visit
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, partial, unknown


def evaluate(visit: Visit) -> Finding:
    """A certificate is judged wherever one was shown, also on pages that answer with an error."""
    certificate = visit.certificate
    if certificate and certificate.problem:
        shown = Evidence(visit.url, visit.at, certificate.detail or str(certificate.problem))
        if certificate.problem is TlsProblem.HANDSHAKE:
            return gap(str(certificate.problem), "browsers cannot connect securely", shown)
        return gap(str(certificate.problem), f"browsers warn visitors: the certificate is {certificate.problem}", shown)
    if certificate:
        until = certificate.not_after[:10]
        shown = Evidence(visit.url, visit.at, f"issued by {certificate.issuer}, valid until {until}")
        return ok(f"valid until {until}", "a certificate that browsers accept", shown)
    if visit.failure is Failure.TLS:
        return gap(
            str(TlsProblem.HANDSHAKE), "browsers cannot connect securely", Evidence(visit.url, visit.at, visit.detail)
        )
    if visit.failure is not None or visit.status is None:
        return unknown(f"the site could not be reached: {visit.failure or 'no answer'}")
    shown = Evidence(visit.url, visit.at, "the page came over http://")
    if visit.https_elsewhere is True:
        return partial("not used", "HTTPS works there, but visitors of the listed address are not sent to it", shown)
    if visit.https_elsewhere is False:
        return gap("plain HTTP only", "browsers mark the site “Not secure”", shown)
    return unknown("the page came over plain HTTP, and whether HTTPS works could not be tried", shown)


CHECK = Check(
    id="https",
    group=Group.SECURITY,
    title="HTTPS, valid certificate",
    why="Without a valid certificate browsers show “Not secure” or a full-page warning before your site.",
    needs=(Visit,),
    evaluate=evaluate,
    weight=2,
    owner=OwnersWords(
        topic="A secure connection",
        claim="Browsers warn your visitors, or mark your website as not secure.",
        partly="Your website can be opened securely, but visitors are not sent there.",
        remedy="Install a certificate that renews automatically, and send every visitor to the secure address.",
    ),
)
