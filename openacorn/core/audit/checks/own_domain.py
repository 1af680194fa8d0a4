"""Does the site stand on the business's own domain?"""

from openacorn.core.audit.address import host_of
from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Destination
from openacorn.core.audit.finding import Evidence, Finding, gap, ok
from openacorn.core.audit.hosts import borrowed, registrable_domain


def evaluate(destination: Destination) -> Finding:
    """Look at where the visitor ends up if the site answered, else at the listed address."""
    host = host_of(destination.url)
    loan = borrowed(host)
    where = Evidence(destination.url, destination.at, f"host: {host}")
    if loan:
        kind, whose = loan
        return gap(kind, f"the listed website is a {kind} ({whose}), not a domain of its own", where)
    return ok(registrable_domain(host) or host, "a domain of its own", where)


CHECK = Check(
    id="own_domain",
    group=Group.PRESENCE,
    title="Own domain",
    why="An address of your own stays yours when a platform changes its rules, and looks established.",
    needs=(Destination,),
    evaluate=evaluate,
    rank=40,
    owner=OwnersWords(
        topic="An address of your own",
        claim="Your website's address belongs to somebody else.",
        remedy="Register an address in your name and move your site there.",
    ),
)
