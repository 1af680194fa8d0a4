"""Mail lands in spam."""

from openacorn.core.desk.angle import Angle

ANGLE = Angle(
    id="mail_in_spam",
    name="Mail lands in spam",
    service="domain_mail",
    line="Anybody can send mail in your name today, so mail servers that check trust yours less.",
    filter={"check.mail_host": "ok", "check.spf": "gap,partial", "check.dmarc": "gap"},
)
