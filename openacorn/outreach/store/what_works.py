"""Results of the messages that were sent, one by one."""

import sqlite3

from openacorn.core.outreach.what_works import By, SentMessage

GROUP = {
    By.TEMPLATE: "message.template",
    By.SEQUENCE: "coalesce(sequence.name, '')",
    By.SERVICE: "message.service",
    By.MAILBOX: "coalesce(mailbox.address, '')",
    By.STEP: "coalesce(sequence.name || ', step ' || (message.step + 1), '')",
    By.HOUR: "substr(message.sent_at, 12, 2)",
}
"""What distinguishes messages → the expression for it; hours are UTC."""

SENT = """
SELECT {group} AS grouped, message.state = 'bounced' AS bounced,
  EXISTS (
    SELECT 1 FROM owner_page WHERE owner_page.business_id = message.business_id AND viewed_at >= message.sent_at
  ) AS opened,
  (
    SELECT kind FROM incoming WHERE answers = message.id AND kind IN ('reply', 'refusal', 'opt-out') ORDER BY id DESC LIMIT 1
  ) AS answer,
  EXISTS (SELECT 1 FROM member WHERE member.business_id = message.business_id AND stage = 'won') AS won
FROM message LEFT JOIN enrolment ON enrolment.id = enrolment_id LEFT JOIN sequence ON sequence.id = sequence_id
LEFT JOIN mailbox ON mailbox.id = message.mailbox_id
WHERE message.kind = 'email' AND message.step >= 0 AND message.state IN ('sent', 'perhaps sent', 'bounced')
"""


def list_sent(conn: sqlite3.Connection, by: By) -> list[SentMessage]:
    """Every e-mail that was sent, except answers written by hand."""
    rows = conn.execute(SENT.format(group=GROUP[by]))
    return [
        SentMessage(row["grouped"], bool(row["bounced"]), bool(row["opened"]), row["answer"] is not None,
                    row["answer"] in {"refusal", "opt-out"}, bool(row["won"]))
        for row in rows
    ]  # fmt: skip
