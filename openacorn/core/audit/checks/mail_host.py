"""Can the business's own domain receive mail?"""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.finding import Evidence, Finding, gap, ok
from openacorn.core.audit.offsite import MailDomain


def evaluate(mail: MailDomain) -> Finding:
    """MX records (RFC 5321, 5.1); a single "." says that it takes none (RFC 7505)."""
    hosts = [host for host in mail.mx if host not in {"", "."}]
    if hosts:
        return ok(hosts[:3], f"mail goes to {hosts[0]}", Evidence(mail.domain, mail.at, "MX " + ", ".join(hosts[:3])))
    record = "MX ." if mail.mx else "no MX record"
    return gap(None, f"{mail.domain} takes no mail", Evidence(mail.domain, mail.at, record))


CHECK = Check(
    id="mail_host",
    group=Group.DELIVERY,
    title="E-mail at own domain",
    why="An address at your own name looks established, and stays when you change your provider.",
    needs=(MailDomain,),
    evaluate=evaluate,
    rank=10,
    owner=OwnersWords(
        topic="E-mail at your own address",
        claim="Your own web address does not receive e-mail.",
        remedy="Set up mailboxes in your own name.",
    ),
)
