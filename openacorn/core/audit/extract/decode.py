"""Bytes to text, as a browser would: byte-order mark, header, meta element, then the likeliest legacy encoding."""

import codecs
import re

META_CHARSET = re.compile(rb"<meta[^>]{0,200}?charset\s*=\s*[\"']?\s*([a-zA-Z0-9_:.-]{2,40})", re.IGNORECASE)
HEADER_CHARSET = re.compile(r"charset\s*=\s*[\"']?([a-zA-Z0-9_:.-]{2,40})", re.IGNORECASE)
SNIFF_BYTES = 1024
"""The Encoding part of the HTML standard looks for a meta charset in the first 1,024 bytes."""

LEGACY = "cp1252"
"""The HTML standard's fallback for Western locales; also what it reads "iso-8859-1" and "ascii" as."""

BOMS = ((codecs.BOM_UTF8, "utf-8"), (codecs.BOM_UTF16_LE, "utf-16-le"), (codecs.BOM_UTF16_BE, "utf-16-be"))


def _known(label: str) -> str | None:
    try:
        name = codecs.lookup(label.strip()).name
    except LookupError:
        return None
    return LEGACY if name in {"iso8859-1", "ascii"} else name


def decode_html(body: bytes, content_type: str) -> tuple[str, str | None]:
    """Return (text, what was wrong with the declared encoding or None).

    Undecodable bytes become U+FFFD, never an error. If the declared encoding does not fit but UTF-8 does
    without a fault, UTF-8 is taken: text that is valid UTF-8 by chance is next to impossible.
    """
    for mark, name in BOMS:
        if body.startswith(mark):
            return body[len(mark) :].decode(name, "replace"), None
    in_header = HEADER_CHARSET.search(content_type)
    in_meta = META_CHARSET.search(body[:SNIFF_BYTES])
    label = in_header.group(1) if in_header else in_meta.group(1).decode("ascii") if in_meta else None
    declared = _known(label) if label else None
    if declared and declared.startswith("utf-16"):
        declared = "utf-8"  # the standard: a page read so far as ASCII cannot be UTF-16
    try:
        text = body.decode("utf-8")
        fault = None if declared in (None, "utf-8") or body.isascii() else f"declared {label}, but is UTF-8"
        if label is not None and declared is None:
            fault = f"unknown encoding {label}"
        return text, fault
    except UnicodeDecodeError:
        pass
    if declared == "utf-8":
        return body.decode(LEGACY, "replace"), f"declared {label}, but is not"
    return body.decode(declared or LEGACY, "replace"), None
