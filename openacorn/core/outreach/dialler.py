"""Call lists for a dialler, and its results: which columns there are, and what its words for a result mean to us."""

import csv
import io
import re
from collections.abc import Iterable, Mapping, Sequence

from openacorn.core.export.formats.csv import BOM, harmless

COLUMNS: dict[str, str] = {
    "reference": "Reference",
    "number": "Number",
    "other_number": "Other number",
    "line": "Line",
    "business": "Business",
    "person": "Ask for",
    "role": "Role",
    "trade": "Trade",
    "town": "Town",
    "time_zone": "Time zone",
    "hours": "Opening hours",
    "language": "Language",
    "offer": "Offer",
    "opening_line": "Opening line",
    "first_finding": "First finding",
    "second_finding": "Second finding",
    "third_finding": "Third finding",
    "voicemail": "Voicemail",
    "page": "Owner’s page",
    "follow_up": "Follow up",
    "last": "Last contact",
}
"""Column → its title."""

USUAL = (
    "reference",
    "number",
    "other_number",
    "business",
    "person",
    "town",
    "time_zone",
    "offer",
    "opening_line",
    "first_finding",
)
NUMBERS = frozenset({"number", "other_number"})
_NUMBER = re.compile(r"\+?\d+")

FIELDS = ("reference", "number", "email", "result", "note", "at", "follow_up", "amount")
"""What is read of another tool's file of results."""

KEYS = frozenset({"reference", "number", "email"})
"""Of these, what a business is found by."""

BOUNCED = "bounced"
"""What a file can say besides a result: nobody is at the address."""

HEADINGS = {
    "reference": r"reference|external id|\bref\b|^id$|record id",
    "number": r"phone|number|dialled|dialed|callee|destination",
    "result": r"result|outcome|disposition|status|wrap",
    "email": r"e-?mail|recipient|\bto\b",
    "note": r"note|comment|remark|summary",
    "at": r"time|date|called|start|when",
    "follow_up": r"call ?back|follow|next",
    "amount": r"amount|revenue|price|total|deal",
}
MEANINGS = {
    BOUNCED: r"bounc|undeliver|no such (?:user|mailbox)|invalid (?:e-?mail|address|recipient)",
    "refused": r"do not call|don.t call|\bdnc\b|remove|opt.?out|unsubscribe|stop calling",
    "not interested": r"not interested|no interest|declin|reject",
    "no answer": r"no.?answer|unanswered|busy|engaged|voice.?mail|machine|unreachable|not reached|missed|no reply|dropped|abandon",
    "call back": r"call.?back|callback|call again|later|schedul|retry",
    "won": r"\bwon\b|\bsale\b|sold|closed won|accepted|bought|purchas|\bpaid\b",
    "proposed": r"propos|offer sent|quote",
    "lost": r"\blost\b|closed lost",
    "talking": r"interested|connected|answered|conversation|talk|spoke|human|meeting|appointment|success|replied|responded",
    "mailed": r"\bsent\b|delivered|opened|clicked",
}
"""Result of ours → how diallers and mailers often call it (common practice; from memory). The first that fits counts."""


def write_call_list(columns: Sequence[str], rows: Iterable[Mapping[str, str]]) -> bytes:
    """A call list as CSV (RFC 4180). Numbers stay as diallers read them (E.164); no other cell is run by a spreadsheet."""
    buffer = io.StringIO()
    writer = csv.writer(buffer, lineterminator="\r\n")
    writer.writerow([COLUMNS[name] for name in columns])
    for row in rows:
        cells = ((name, row.get(name, "")) for name in columns)
        writer.writerow(
            [cell if name in NUMBERS and _NUMBER.fullmatch(cell) else harmless(cell) for name, cell in cells]
        )
    return BOM + buffer.getvalue().encode()


def guess_fields(headings: Sequence[str]) -> dict[str, str]:
    """What is read → the heading that it likely stands under; each heading once."""
    found: dict[str, str] = {}
    for field, pattern in HEADINGS.items():
        fitting = (
            heading for heading in headings if heading not in found.values() and re.search(pattern, heading, re.I)
        )
        if (heading := next(fitting, None)) is not None:
            found[field] = heading
    return found


def guess_result(word: str) -> str:
    """The result that a dialler's word likely means, "" if it tells none."""
    return next((result for result, pattern in MEANINGS.items() if re.search(pattern, word, re.I)), "")
