"""Does the domain say what becomes of forged mail?"""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.finding import Evidence, Finding, gap, not_applicable, ok, partial
from openacorn.core.audit.mail_records import read_dmarc
from openacorn.core.audit.offsite import MailDomain


def evaluate(mail: MailDomain) -> Finding:
    """RFC 7489, at the registrable domain. A policy of "none" only asks for reports."""
    if not mail.mx:
        return not_applicable(f"{mail.domain} takes no mail")
    dmarc = read_dmarc(mail.dmarc)
    shown = Evidence(f"_dmarc.{mail.domain}", mail.at, dmarc.record[:300] or "no TXT record begins with v=DMARC1")
    if not dmarc.record:
        return gap(None, "nothing says what becomes of forged mail", shown)
    if dmarc.fault:
        return gap("broken", dmarc.fault, shown)
    if dmarc.policy == "none":
        return partial("none", "forged mail is only reported, not refused", shown)
    if dmarc.share < 100:
        return partial(dmarc.policy, f"the policy is for {dmarc.share} % of the mail", shown)
    return ok(dmarc.policy, f"forged mail is to be {'refused' if dmarc.policy == 'reject' else 'put aside'}", shown)


CHECK = Check(
    id="dmarc",
    group=Group.DELIVERY,
    title="DMARC policy",
    why="Large mailbox providers ask for it before they deliver newsletters and offers.",
    needs=(MailDomain,),
    evaluate=evaluate,
    rank=60,
    owner=OwnersWords(
        topic="Protection against forged e-mail",
        claim="Your domain does not say what to do with e-mail forged in your name.",
        partly="E-mail forged in your name is not rejected everywhere.",
        remedy="Have forged e-mail rejected, step by step, without losing your own.",
    ),
)
