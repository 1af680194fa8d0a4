"""Does the listed address answer, and if not, where does it fail: name, connection, security or server?"""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Failure, Visit
from openacorn.core.audit.finding import Evidence, Finding, gap, ok, partial, unknown

DEAD = {
    Failure.NO_SUCH_NAME: "the name in the address does not exist any more",
    Failure.REFUSED: "the server refuses connections",
    Failure.UNREACHABLE: "the server cannot be reached",
    Failure.TIMEOUT: "the server does not answer in time, tried twice",
    Failure.TLS: "no secure connection can be made",
    Failure.REDIRECT_LOOP: "the address sends visitors in circles",
    Failure.PROTOCOL: "the server's answer is broken",
    Failure.BAD_ADDRESS: "the listed address is not a web address",
}
BLOCKING_STATUS = frozenset({401, 403, 405, 406, 418, 429, 451, 503})
"""Answers that servers give to programs while people see the page: they do not decide anything."""


def evaluate(visit: Visit) -> Finding:
    """Tell apart DNS, TCP, TLS and HTTP failures; what may concern only us is unknown."""
    shown = Evidence(
        visit.url, visit.at, visit.detail or (f"HTTP {visit.status}" if visit.status else str(visit.failure))
    )
    if visit.failure in DEAD:
        return gap(str(visit.failure), DEAD[visit.failure], shown)
    if visit.failure is not None:
        return unknown(str(visit.failure), shown)
    if visit.status in BLOCKING_STATUS:
        return unknown(f"the server turns programs away (HTTP {visit.status}); a person may see the page", shown)
    if visit.status is None or visit.status >= 400:
        return gap(f"HTTP {visit.status}", f"the server answers with error {visit.status}", shown)
    if visit.certificate and visit.certificate.problem:
        why = f"answers only behind a browser warning: the certificate is {visit.certificate.problem}"
        return partial("behind a warning", why, shown)
    return ok(f"HTTP {visit.status}", "the address answers", shown)


CHECK = Check(
    id="answers",
    group=Group.PRESENCE,
    title="Website answers",
    why="A visitor who gets an error page instead of your site does not come back.",
    needs=(Visit,),
    evaluate=evaluate,
    weight=2,
    rank=20,
    owner=OwnersWords(
        topic="Your website opens",
        claim="Your website does not open: visitors see an error.",
        partly="Your website opens only after a browser warning.",
        remedy="Get your address working again, on hosting that stays up.",
    ),
)
