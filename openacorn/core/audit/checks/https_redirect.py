"""Is a visitor of the plain address sent to the secure one?"""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Visit
from openacorn.core.audit.finding import Evidence, Finding, gap, not_applicable, ok, unknown


def evaluate(visit: Visit) -> Finding:
    """Only where HTTPS works: a site without it is the matter of another check."""
    if visit.certificate is not None and visit.certificate.problem:
        return not_applicable("its secure address shows a warning")
    if not visit.answered:
        return unknown("the site could not be read")
    if visit.url.startswith("http://"):
        shown = Evidence(visit.url, visit.at, "the page came over http://")
        if visit.https_elsewhere:
            return gap("not sent on", "visitors of the plain address stay on it, though HTTPS works", shown)
        if visit.https_elsewhere is False:
            return not_applicable("it has no secure address to send visitors to")
        return unknown("whether HTTPS works could not be tried", shown)
    if visit.sent_to_https is None:
        return unknown("the plain address did not answer")
    shown = Evidence(visit.url.replace("https://", "http://", 1), visit.at, "where http:// leads")
    if visit.sent_to_https:
        return ok("sent on", "visitors of the plain address are sent to the secure one", shown)
    return gap("not sent on", "visitors of the plain address stay on it, though HTTPS works", shown)


CHECK = Check(
    id="https_redirect",
    group=Group.SECURITY,
    title="HTTP to HTTPS",
    why="Old links and typed addresses begin with http; without a redirect, browsers show “Not secure”.",
    needs=(Visit,),
    evaluate=evaluate,
    owner=OwnersWords(
        topic="Old links lead to the secure address",
        claim="Visitors who follow an old link stay on an insecure connection.",
        remedy="Redirect visitors from the plain address to the secure one.",
    ),
)
