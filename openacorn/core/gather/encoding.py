"""In which encoding a text file is written, guessed from its bytes; the user sees the guess and can change it."""

import codecs

import charset_normalizer

ENCODINGS = {
    "utf-8": "Unicode (UTF-8)",
    "utf-16": "Unicode (UTF-16)",
    "utf-16-le": "Unicode (UTF-16, little-endian)",
    "utf-16-be": "Unicode (UTF-16, big-endian)",
    "cp1252": "Western European (Windows-1252)",
    "cp1250": "Central European (Windows-1250)",
    "cp1251": "Cyrillic (Windows-1251)",
    "cp1253": "Greek (Windows-1253)",
    "cp1254": "Turkish (Windows-1254)",
    "cp1255": "Hebrew (Windows-1255)",
    "cp1256": "Arabic (Windows-1256)",
    "cp1257": "Baltic (Windows-1257)",
    "mac_roman": "Western European (Mac)",
    "cp850": "Western European (DOS)",
    "koi8_r": "Cyrillic (KOI8-R)",
    "cp932": "Japanese (Shift JIS)",
    "euc_jp": "Japanese (EUC)",
    "gb18030": "Chinese, simplified (GB 18030)",
    "big5": "Chinese, traditional (Big5)",
    "cp949": "Korean (EUC-KR)",
}
"""Encodings that can be chosen → how they are called."""

BY_REGION = {
    "cp1250": "AL BA CZ HR HU ME PL RO RS SI SK", "cp1251": "BG BY KG KZ MK MN RU UA", "cp1253": "CY GR", "cp1254": "AZ TR",
    "cp1255": "IL", "cp1256": "AE BH DZ EG IQ IR JO KW LB LY MA OM PK QA SA SY TN YE", "cp1257": "EE LT LV", "cp932": "JP",
    "gb18030": "CN SG", "big5": "HK MO TW", "cp949": "KR",
}  # fmt: skip
"""Encoding → countries (ISO 3166) in which spreadsheets save text so: Windows' "ANSI" code pages, from memory. Elsewhere cp1252."""

LATIN = ("cp1252", "cp1250", "cp1254", "mac_roman")
NOT_LATIN = ("cp1251", "cp1253", "cp1255", "cp1256", "koi8_r", "cp932", "euc_jp", "gb18030", "big5", "cp949")
NOT_LATIN_SHARE = 0.45
"""Bytes over 127 among those of the lines that hold any: Latin texts have under a third of them, others over two thirds
(measured on two dozen short lists in as many languages)."""

NULS_SHARE = 0.2
"""Every other byte of Latin text in UTF-16 is 0."""

USUAL = frozenset("àâäáãåæçèéêëìíîïñòóôöõøœùúûüýÿßąćęłńśźżčďěňřšťůžőűăâîșțşğıāēģīķļņūė")
ONLY_AT_THE_END = frozenset("ìòù")
"""Western languages write these at the end of a word (Italian, French "où"); inside one they are Central European ones misread."""

MARKS = frozenset("“”„‘’‚–—…«»€£§°©®™·´")


def by_mark(head: bytes) -> str:
    """Return the encoding that a byte order mark at the start of a file tells, "" if there is none."""
    if head.startswith(codecs.BOM_UTF8):
        return "utf-8"
    return "utf-16" if head.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)) else ""


def by_nuls(head: bytes) -> str:
    """Return the kind of UTF-16 without a mark that the zero bytes tell, "" for no text of that kind."""
    nuls = [head[start::2].count(0) for start in (0, 1)]
    if not head or max(nuls) < NULS_SHARE * len(head) / 2 or min(nuls) > max(nuls) / 10:
        return ""
    return "utf-16-be" if nuls[0] > nuls[1] else "utf-16-le"


def usual_in(region: str | None) -> str:
    """Return the encoding that spreadsheets of a country (ISO 3166) save text in when it is not Unicode."""
    return next((encoding for encoding, regions in BY_REGION.items() if region and region in regions.split()), "cp1252")


def _plausibility(text: str) -> float:
    """How much a text looks like names in a Latin script: usual letters count for it, symbols inside words against it."""
    score = 0.0
    for before, char, after in zip(" " + text, text, text[1:] + " ", strict=False):
        if char < "\x80":
            continue
        if char.lower() in USUAL and (before.isalpha() or after.isalpha()):
            mixed = (char.isupper() and before.islower()) or (char.islower() and after.isupper())
            misread = (char in ONLY_AT_THE_END and after.isalpha()) or (
                char == "õ" and after.isalpha() and after != "e"
            )
            score += -1 if mixed else 0 if misread else 1
        elif char in MARKS:
            score += 0.5
        elif not char.isalpha() and (before.isalpha() or after.isalpha()):
            score -= 1
    return score


def guess_encoding(lines: bytes, region: str | None) -> str:
    """Guess the encoding of text that is no Unicode. lines: those that hold bytes over 127; region: the user's country."""
    home = usual_in(region)
    over = sum(byte > 127 for byte in lines)
    if over > NOT_LATIN_SHARE * max(1, len(lines.translate(None, b" \t\r\n,;"))):
        found = charset_normalizer.from_bytes(lines, cp_isolation=list(NOT_LATIN)).best()
        found_name = {"shift_jis": "cp932", "euc_kr": "cp949"}.get(found.encoding, found.encoding) if found else home
        return found_name if found_name in ENCODINGS else home
    scores = {}
    for encoding in dict.fromkeys((home, *LATIN)):
        try:
            scores[encoding] = _plausibility(lines.decode(encoding))
        except UnicodeDecodeError:
            continue
    return max(scores, key=lambda encoding: scores[encoding], default=home)
