"""Does the domain say who may send mail in its name?"""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.finding import Evidence, Finding, gap, not_applicable, ok, partial
from openacorn.core.audit.mail_records import read_spf
from openacorn.core.audit.offsite import MailDomain

WORDS = {
    "-": "mail from elsewhere fails",
    "~": "mail from elsewhere is marked",
    "redirect": "as another domain's record says",
}


def evaluate(mail: MailDomain) -> Finding:
    """RFC 7208. A domain that takes no mail is not asked for it."""
    if not mail.mx:
        return not_applicable(f"{mail.domain} takes no mail")
    spf = read_spf(mail.texts)
    shown = Evidence(mail.domain, mail.at, spf.record[:300] or "no TXT record begins with v=spf1")
    if not spf.record:
        return gap(None, "nothing says who may send mail in its name", shown)
    if spf.fault:
        return gap("broken", spf.fault, shown)
    if spf.ending == "+":
        return gap("open", "the record lets everybody send in its name", shown)
    if spf.ending not in WORDS:
        return partial("undecided", "the record does not say what becomes of mail from elsewhere", shown)
    return ok(spf.ending, WORDS[spf.ending], shown)


CHECK = Check(
    id="spf",
    group=Group.DELIVERY,
    title="SPF record",
    why="Without such a list, mail goes to spam more often, and others can write in your name.",
    needs=(MailDomain,),
    evaluate=evaluate,
    owner=OwnersWords(
        topic="Who may send e-mail in your name",
        claim="Your domain does not say who may send its e-mail, so your mail may go to spam.",
        partly="Your domain says only loosely who may send its e-mail.",
        remedy="List the servers that may send e-mail in your name.",
    ),
)
