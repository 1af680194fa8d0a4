"""Kinds of messages and what each may be: how long it is as its carrier counts, and how long it should be."""

import re
from dataclasses import dataclass
from enum import StrEnum
from unicodedata import normalize


class MessageKind(StrEnum):
    """What a template is for. A post is a draft for a page of the business's own, as a sample of what it could get."""

    EMAIL = "email"
    TEXT = "text"
    SOCIAL = "social"
    CALL = "call"
    VOICEMAIL = "voicemail"
    POST = "post"


GSM_7 = frozenset(
    "@£$¥èéùìòÇ\nØø\rÅåΔ_ΦΓΛΩΠΨΣΘΞÆæßÉ !\"#¤%&'()*+,-./0123456789:;<=>?¡ABCDEFGHIJKLMNOPQRSTUVWXYZ"
    "ÄÖÑÜ§¿abcdefghijklmnopqrstuvwxyzäöñüà"
)
"""The default alphabet of text messages (3GPP TS 23.038, 6.2.1); each takes one septet."""

GSM_7_EXTENDED = frozenset("^{}\\[~]|€\f")
"""Its extension table (6.2.1.1); each takes two."""

ONE_PART, MORE_PARTS = 160, 153
"""Septets in a message of one part, and in each part of a longer one (3GPP TS 23.040, 9.2.3.24.1)."""

UCS2_ONE_PART, UCS2_MORE_PARTS = 70, 67
_WORD = re.compile(r"\S+")


@dataclass(frozen=True, slots=True)
class TextLength:
    """How a text message is counted. units: septets, or UTF-16 units where a character is outside GSM-7; odd: the first one."""

    units: int
    parts: int
    odd: str = ""


def text_length(text: str) -> TextLength:
    """Count a text message as its carrier does."""
    odd = next((char for char in text if char not in GSM_7 and char not in GSM_7_EXTENDED), "")
    if odd:
        units, one, more = len(text.encode("utf-16-le")) // 2, UCS2_ONE_PART, UCS2_MORE_PARTS
    else:
        units, one, more = sum(2 if char in GSM_7_EXTENDED else 1 for char in text), ONE_PART, MORE_PARTS
    return TextLength(units, 1 if units <= one else -(-units // more), odd)


_ALIKE = str.maketrans(
    {
        "’": "'",
        "‘": "'",
        "“": '"',
        "”": '"',
        "„": '"',
        "«": '"',
        "»": '"',
        "–": "-",
        "—": "-",
        "…": "...",
        "\u00a0": " ",
        "\u202f": " ",
    }
)


def plain_letters(text: str) -> str:
    """A text message in letters that its carrier knows: á as a, typographic quotes as plain ones (common practice). Characters that
    have no such letter stay."""
    return "".join(
        char if char in GSM_7 or char in GSM_7_EXTENDED or (base := normalize("NFKD", char)[0]) not in GSM_7 else base
        for char in text.translate(_ALIKE)
    )


def words(text: str) -> int:
    """Words between white space."""
    return len(_WORD.findall(text))


MOST_WORDS = {
    MessageKind.EMAIL: 120,
    MessageKind.CALL: 220,
    MessageKind.VOICEMAIL: 75,
    MessageKind.SOCIAL: 60,
    MessageKind.POST: 80,
}
"""Longer ones are not read or heard to their end (common practice); a voicemail of 75 words takes half a minute."""


def too_long(kind: MessageKind, text: str) -> str:
    """Why a message is too long for its kind, "" if it is not."""
    if kind is MessageKind.TEXT:
        length = text_length(text)
        if length.parts == 1:
            return ""
        because = (
            f"; {length.odd!r} is outside the alphabet of text messages, which halves what fits" if length.odd else ""
        )
        return f"it takes {length.parts} text messages ({length.units} characters as they are counted){because}"
    count = words(text)
    return f"it has {count} words; {MOST_WORDS[kind]} are enough" if count > MOST_WORDS[kind] else ""
