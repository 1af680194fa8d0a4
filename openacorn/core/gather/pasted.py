"""A copied page of results, or any list, as rows: name, phones, e-mails, site, place; and address patterns with a range."""

import itertools
import re
from collections.abc import Sequence
from dataclasses import dataclass, field

from openacorn.core.audit.extract.emails import find_emails
from openacorn.core.audit.extract.phones import find_phones
from openacorn.errors import InvalidInput

URL = re.compile(
    r"(?:https?://|www\.)[^\s<>\"')\]]+|"
    r"(?<![@\w.-])(?:[a-z0-9-]+\.)+(?:com|net|org|biz|info|example|co|io|au|uk|nz|de|fr)(?:\.[a-z]{2})?(?:/[^\s]*)?",
    re.I,
)
STREET = re.compile(
    r"\b(?:(?:shop|unit|suite|level)\s*\w+[,/]?\s*)?\d+[a-z]?\s+(?:[A-Z][\w'’]+\s)+"
    r"(?:St|Street|Rd|Road|Ave|Avenue|Ln|Lane|Dr|Drive|Pde|Parade|Tce|Terrace|Ct|Court|Pl|Place|Hwy|Highway)\b\.?"
)  # fmt: skip
PHONE_AS_WRITTEN = re.compile(r"(?<![\w./-])(?:\(\d{1,5}\)|0\d|\d{3})[\d ()./-]{4,16}\d(?![\w/-])")
"""A national number, kept as it is written while the user's country is not known: which numbers are valid depends on it."""

NOISE = re.compile(
    r"^(?:website|directions|call|save|share|map|open now|closed|opens? .*|closes? .*|\(?\d[\d,.]*\)?|\d(?:\.\d)?\s*stars?.*|"
    r"\d+(?:\.\d+)?\s*\(\d[\d,]*\).*|ad|sponsored|more|next|previous|"
    r"results (?:for|in) .*|\d+ results?.*|no reviews?|reviews?|\W*)$",
    re.I,
)
"""Lines that stand between the names of a list of results (common practice)."""

STARS = re.compile(
    r"^(\d(?:[.,]\d)?)\s*(?:/\s*5)?\s*(?:stars?|[★⭐☆]+|sterne|étoiles|estrellas|stelle|sterren|звёзд|звезды)?\s*[·|,–-]?\s*\(?"
    r"(\d[\d.,\s]*)\s*(?:(?:google )?(?:reviews?|ratings?|bewertungen|rezensionen|avis|opiniones|reseñas|recensioni|"
    r"avaliações|beoordelingen|recensies|omdömen|recensioner|anmeldelser|arvostelua|opinii|recenzí|yorum|отзыв\w*|відгук\w*))?\)?$",
    re.I,
)
"""A rating and how many gave it: "4.6 (1,120)", "4,6 ★ · 1.120 Bewertungen"."""

LISTICLE = re.compile(
    r"^(?:the |die |les |los |las |i |de )?(?:(?:top|best|beste[ns]?|meilleure?s|mejores|migliori|melhores)\s*\d+|"
    r"\d+\s*(?:best|beste[n]?|meilleure?s|mejores|migliori|melhores|top))\b",
    re.I,
)
"""A heading such as "Top 10 plumbers" or "Die 10 besten …": of a directory, no business."""

RANGE = re.compile(r"\{(\d+)\.\.(\d+)\}")
MOST_ADDRESSES = 10_000
MOST_NAME_WORDS = 10
MOST_REVIEW_DIGITS = 7
MOSTLY = 0.6
"""Share of blocks that must be businesses: headings and advertisements stand among them."""

REACHED = {"phone", "email", "website"}


class PatternError(InvalidInput):
    """An address pattern that gives no addresses; the message says why."""

    where = "text"
    remedy = "change the text and send it again"


@dataclass(slots=True)
class PastedRow:
    """One row and the lines of the text that it was taken from (counted from 1)."""

    cells: dict[str, str]
    lines: list[int] = field(default_factory=list)


def _pieces(line: str, towns: Sequence[str], region: str | None) -> dict[str, str]:
    """What a line tells besides a name."""
    found: dict[str, str] = {}
    mails = find_emails(line, (), (), ()) if "@" in line else ()
    if mails:
        found["email"] = mails[0].value
        line = line.replace(mails[0].value, " ")
    site = URL.search(line)
    if site:
        found["website"] = site.group().rstrip(".,;")
        line = line.replace(site.group(), " ")
    phones = find_phones(line, (), region)[0] if sum(char.isdigit() for char in line) >= 7 else ()
    written = PHONE_AS_WRITTEN.search(line) if region is None else None
    if phones:
        found["phone"] = phones[0].value
    elif written:
        found["phone"] = written.group().strip()
    street = STREET.search(line)
    if street:
        found["street"] = street.group()
    lowered = line.lower()
    town = next((name for name in towns if re.search(rf"\b{re.escape(name.lower())}\b", lowered)), "")
    if town and (street or lowered.strip(" ,.0123456789") == town.lower() or line.count(",")):
        found["town"] = town
    return found


def _name_in(line: str, pieces: dict[str, str]) -> str:
    """The line as a name, "" if it is none: too long, noise, or an address, phone or site itself."""
    text = line.strip(" \t•·-–—*|").strip()
    text = re.sub(r"^\d+[.)]\s+", "", text)
    if not text or NOISE.match(text) or LISTICLE.match(text) or len(text.split()) > MOST_NAME_WORDS:
        return ""
    if not re.search(r"[^\W\d_]{2}", text):
        return ""
    if pieces and set(pieces) - {"town"}:
        head = re.split(r"\s[-–—|·•]\s|\t|,", text)[0].strip()
        taken = any(head.lower() in value.lower() for value in pieces.values())
        return "" if taken or head == text else head
    return "" if pieces.get("town") else text


def read_pasted(text: str, towns: Sequence[str], region: str | None) -> list[PastedRow]:
    """Rows out of a pasted text: one a block where blank lines part it into blocks that each hold a name and a way to reach it,
    else one a name. `towns`: names of places that are known.
    """
    lines = [(number, line, _pieces(line, towns, region)) for number, line in enumerate(text.splitlines(), 1)]
    blocks = [
        list(group) for blank, group in itertools.groupby(lines, key=lambda part: not part[1].strip()) if not blank
    ]
    whole = sum(_is_whole(block) for block in blocks)
    if len(blocks) > 1 and whole >= MOSTLY * len(blocks):
        return [row for block in blocks if (row := _block_row(block)) is not None]
    return _rows_by_name([line for line in lines if line[1].strip()])


Line = tuple[int, str, dict[str, str]]


def _is_whole(block: Sequence[Line]) -> bool:
    """Does a block of lines hold a name and a way to reach it, and no second number as of a second business?"""
    named = any(_name_in(line, pieces) for _, line, pieces in block)
    reached = any(REACHED & set(pieces) for _, _, pieces in block)
    return named and reached and len(block) > 1 and sum("phone" in pieces for _, _, pieces in block) <= 1


def _rating_in(line: str) -> dict[str, str]:
    stars = STARS.match(line.strip())
    count = re.sub(r"\D", "", stars.group(2)) if stars else ""
    if stars is None or len(count) > MOST_REVIEW_DIGITS or not re.search(r"[^\d.,\s]", line):
        return {}
    return {"rating": stars.group(1).replace(",", "."), "reviews": count}


def _block_row(block: Sequence[Line]) -> PastedRow | None:
    """The one row of a block: what is in it belongs to its name, wherever it stands. None without a name."""
    row = PastedRow({}, [number for number, _, _ in block])
    for _, line, pieces in block:
        rating = _rating_in(line)
        name = "" if rating else _name_in(line, pieces)
        if name and "name" not in row.cells:
            row.cells["name"] = name
        elif name and not REACHED & set(row.cells):
            row.cells.setdefault("category", name)
        for key, value in (rating or pieces).items():
            row.cells.setdefault(key, value)
    return row if "name" in row.cells else None


def _rows_by_name(lines: Sequence[Line]) -> list[PastedRow]:
    """A line that can be a name begins a row; what follows belongs to it until the next one.

    A second name without anything between is taken as the category of the first ("Harbour Vets" / "Veterinarian").
    """
    rows: list[PastedRow] = []
    for number, line, pieces in lines:
        rating = _rating_in(line)
        name = "" if rating else _name_in(line, pieces)
        bare = bool(rows) and set(rows[-1].cells) <= {"name", "rating", "reviews"}
        if rating and bare:
            pieces = rating
        elif name and bare:
            pieces["category"] = name
        elif name:
            rows.append(PastedRow({"name": name}, [number]))
        if rows and pieces:
            for key, value in pieces.items():
                rows[-1].cells.setdefault(key, value)
            if number not in rows[-1].lines:
                rows[-1].lines.append(number)
    return [row for row in rows if len(row.cells) > 1]


def expand_addresses(text: str) -> list[str]:
    """Addresses, one a line; a line with {1..250} stands for as many. Raises PatternError."""
    found: list[str] = []
    for number, line in enumerate(text.splitlines(), 1):
        line = line.strip()
        if not line:
            continue
        span = RANGE.search(line)
        if "{" in line and span is None:
            raise PatternError(f"line {number}: {line[:80]!r}: a range is written {{1..250}}")
        if span is None:
            found.append(line)
            continue
        first, last = int(span.group(1)), int(span.group(2))
        if last < first or len(found) + last - first >= MOST_ADDRESSES:
            raise PatternError(f"line {number}: {span.group()} gives no list of at most {MOST_ADDRESSES:,} addresses")
        width = len(span.group(1)) if span.group(1).startswith("0") else 0
        found += [
            line[: span.start()] + str(value).zfill(width) + line[span.end() :] for value in range(first, last + 1)
        ]
    if not found:
        raise PatternError("no address is written here; put one on each line")
    return list(dict.fromkeys(found))
